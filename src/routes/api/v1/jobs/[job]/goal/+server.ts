import { json } from '@sveltejs/kit';
import { parseGoal } from '$core/fuelling/goal';
import { goalOf, saveGoal } from '$lib/server/jobs/goals';
import { jobOr404, orJson } from '$lib/server/http/http';
import type { RequestHandler } from './$types';

/** What the job is to reach, in numbers: `tanto.goal/1`. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return json(await goalOf(locals.app.db, job.id));
};

export const PUT: RequestHandler = async ({ params, request, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return orJson(async () => {
		const goal = parseGoal(await request.json().catch(() => null));
		await saveGoal(locals.app.db, job.id, goal);
		return json(goal);
	});
};
