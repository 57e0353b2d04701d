import { json } from '@sveltejs/kit';
import { jobOr404, orJson } from '$lib/server/http/http';
import { ladderOfJob } from '$lib/server/views/ladders';
import type { RequestHandler } from './$types';

/** The rung that comes next, its gates and, while all of them are open, its changes. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return orJson(async () => json((await ladderOfJob(locals.app, job.id)).answer));
};
