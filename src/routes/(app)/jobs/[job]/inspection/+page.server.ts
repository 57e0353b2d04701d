import { jobOr404 } from '$lib/server/http/http';
import { inspectionOf } from '$lib/server/jobs/inspection';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return { items: await inspectionOf(locals.app.db, job.id) };
};
