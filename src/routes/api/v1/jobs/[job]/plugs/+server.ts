import { json } from '@sveltejs/kit';
import { jobOr404, orJson } from '$lib/server/http';
import { answerOf, plugsOf } from '$lib/server/plugs';
import type { RequestHandler } from './$types';

/** Readings of plugs of a job, the newest first, and what the newest asks for. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const readings = await plugsOf(locals.app.db, job.id);
	return orJson(async () =>
		json({ readings, answer: readings[0] ? await answerOf(locals.app, readings[0]) : null })
	);
};
