import { jobOr404 } from '$lib/server/http';
import { lookoverOf } from '$lib/server/lookover';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return { items: await lookoverOf(locals.app.db, job.id) };
};
