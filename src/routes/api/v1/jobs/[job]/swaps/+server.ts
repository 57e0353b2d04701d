import { json } from '@sveltejs/kit';
import { jobOr404 } from '$lib/server/http';
import { swapsOf } from '$lib/server/swaps';
import type { RequestHandler } from './$types';

/** Swap tests of a job with their answers, oldest first. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return json({ swaps: await swapsOf(locals.app.db, job.id) });
};
