import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { parseWith } from '$core/parse';
import { parseSwap } from '$core/swaps/document';
import { jobOr404, orJson, tunerOr401 } from '$lib/server/http/http';
import { beginSwap, swapsOf } from '$lib/server/jobs/swap-tests';
import type { RequestHandler } from './$types';

/** Swap tests of a job with their answers, oldest first. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return json({ swaps: await swapsOf(locals.app.db, job.id) });
};

const body = z.object({
	swap: z.unknown(),
	/** The log before. */
	before: z.number().int(),
	/** Key of the finding that it began with. */
	finding: z.string().max(200).default('')
});

/** Begins a swap test; the next log of the job answers it. */
export const POST: RequestHandler = async ({ params, request, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return orJson(async () => {
		const { swap, before, finding } = parseWith(body, await request.json().catch(() => null));
		const id = await beginSwap(
			locals.app.db,
			job.id,
			parseSwap(swap),
			{ finding, before, requestId: null },
			tunerOr401(locals).name
		);
		return json({ id }, { status: 201 });
	});
};
