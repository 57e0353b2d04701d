import { json } from '@sveltejs/kit';
import { fuelPlanOf } from '$lib/server/use-cases/plan-fuel';
import { goalOf } from '$lib/server/jobs/goals';
import { jobOr404, orJson } from '$lib/server/http/http';
import type { RequestHandler } from './$types';

/** How far injectors and pump go for the goal of the job: from a log, or from figures without one. */
export const GET: RequestHandler = async ({ params, locals, url }) => {
	const job = await jobOr404(locals.app, params.job);
	const log = url.searchParams.get('log');
	return orJson(async () =>
		json(await fuelPlanOf(locals.app, job, await goalOf(locals.app.db, job.id), log ? Number(log) : null))
	);
};
