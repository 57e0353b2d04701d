import { jobOr404 } from '$lib/server/http';
import { stringOf } from '$lib/server/jobs';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return { job, beads: await stringOf(locals.app.db, job.id) };
};
