import { jobOr404 } from '$lib/server/http';
import { timelineOf } from '$lib/server/timeline';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return { job, events: await timelineOf(locals.app.db, job.id) };
};
