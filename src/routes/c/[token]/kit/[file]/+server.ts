import { jobOfLink } from '$lib/server/http/customer';
import { kitResponse } from '$lib/server/http/kit-response';
import { jobView } from '$lib/server/jobs/jobs';
import { kitOfJob } from '$lib/server/revisions/recording-kits';
import type { RequestHandler } from './$types';

/** A file of the recording kit of this job's controller. */
export const GET: RequestHandler = async (event) => {
	const { db, dataDir } = event.locals.app;
	const job = (await jobView(db, await jobOfLink(event)))!;
	return kitResponse(dataDir, (await kitOfJob(db, job)).files, event.params.file);
};
