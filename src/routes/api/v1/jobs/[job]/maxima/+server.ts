import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { maximaSchema } from '$core/evidence/maxima';
import { parseWith } from '$core/parse';
import { jobOr404, orJson, tunerOr401 } from '$lib/server/http/http';
import { keepMaxima, maximaOf } from '$lib/server/jobs/maxima';
import type { RequestHandler } from './$types';

const body = z.object({ maxima: maximaSchema, revision: z.int() });

/** Maxima typed without a log, the newest first, each against its limit. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return json({ readings: await maximaOf(locals.app.db, job.id, job.vehicle) });
};

export const POST: RequestHandler = async ({ params, request, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return orJson(async () => {
		const { maxima, revision } = parseWith(body, await request.json().catch(() => null));
		const id = await keepMaxima(locals.app.db, job.id, revision, tunerOr401(locals).name, maxima);
		return json({ id }, { status: 201 });
	});
};
