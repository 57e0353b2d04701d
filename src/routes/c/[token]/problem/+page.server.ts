import { jobView } from '$lib/server/jobs';
import { phoneContext } from '$lib/server/phone-context';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, parent }) => {
	const { jobId } = await parent();
	const job = (await jobView(locals.app.db, jobId))!;
	return { context: await phoneContext(locals.app.db, job, false) };
};
