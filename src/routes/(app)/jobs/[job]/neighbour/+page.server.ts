import { redirect } from '@sveltejs/kit';
import { jobOr404 } from '$lib/server/http/http';
import { neighbour } from '$lib/server/jobs/queue';
import type { PageServerLoad } from './$types';

/** Leads on to the next job of the queue, at its newest verdict; from its end back to the queue. */
export const load: PageServerLoad = async ({ params, url, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const next = await neighbour(locals.app.db, job.id, url.searchParams.get('by') === '-1' ? -1 : 1);
	redirect(307, next ? `/jobs/${next.job}${next.log ? `/logs/${next.log}` : ''}` : '/');
};
