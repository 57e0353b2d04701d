import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { parseWith } from '$core/parse';
import { parsePlugs } from '$core/plugs/document';
import { jobOr404, orJson, tunerOr401 } from '$lib/server/http/http';
import { answerOf } from '$lib/server/use-cases/answer-plugs';
import { keepPlugs, plugsOf } from '$lib/server/jobs/plug-readings';
import type { RequestHandler } from './$types';

/** Readings of plugs of a job, the newest first, and what the newest asks for. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const readings = await plugsOf(locals.app.db, job.id);
	return orJson(async () =>
		json({ readings, answer: readings[0] ? await answerOf(locals.app, readings[0]) : null })
	);
};

const body = z.object({
	plugs: z.unknown(),
	/** What was in the car. */
	revision: z.number().int(),
	/** A log of the same session. */
	log: z.number().int().nullable().default(null)
});

/** Keeps a reading of plugs. */
export const POST: RequestHandler = async ({ params, request, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return orJson(async () => {
		const { plugs, revision, log } = parseWith(body, await request.json().catch(() => null));
		const id = await keepPlugs(
			locals.app.db,
			job.id,
			parsePlugs(plugs),
			{ revisionId: revision, logId: log },
			tunerOr401(locals).name
		);
		return json({ id }, { status: 201 });
	});
};
