import { redirect } from '@sveltejs/kit';
import { jobOr404 } from '$lib/server/http/http';
import { logsOf } from '$lib/server/logs/logs';
import type { PageServerLoad } from './$types';

/** To the newest log that counts; where there is none yet, to where logs are added. */
export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const logs = (await logsOf(locals.app.db, job.id)).filter((l) => l.takenOut === null);
	const newest = logs.findLast((l) => l.state === 'screened') ?? logs.at(-1);
	redirect(303, newest ? `/jobs/${job.id}/logs/${newest.id}` : `/jobs/${job.id}#logs`);
};
