import { redirect } from '@sveltejs/kit';
import { jobOr404 } from '$lib/server/http/http';
import { revisionsOf } from '$lib/server/revisions/revisions';
import type { PageServerLoad } from './$types';

/** To the draft, else to the newest revision. */
export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const revisions = await revisionsOf(locals.app.db, job.id);
	const newest = revisions.find((r) => r.state === 'draft') ?? revisions.at(-1)!;
	redirect(303, `/jobs/${job.id}/revisions/${newest.id}`);
};
