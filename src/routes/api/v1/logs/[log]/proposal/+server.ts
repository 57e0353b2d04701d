import { json } from '@sveltejs/kit';
import { InputError } from '$core/input-error';
import { parseWith } from '$core/parse';
import { DEFAULT_STRATEGY, strategySchema } from '$core/correction/strategy';
import { anyLogOr404, orJson } from '$lib/server/http/http';
import type { RequestHandler } from './$types';

/** What a log proposes for the next revision; nothing is stored. Settings that the body leaves out are the defaults. */
export const POST: RequestHandler = async ({ params, request, locals }) =>
	orJson(async () => {
		const { dataDir, pool } = locals.app;
		const log = await anyLogOr404(locals.app, params.log);
		if (log.state !== 'screened') throw new InputError('the log is not screened yet');
		const body: unknown = await request.json().catch(() => null);
		const strategy = parseWith(strategySchema, {
			...DEFAULT_STRATEGY,
			...(typeof body === 'object' && body !== null ? body : {})
		});
		const answer = await pool.run('propose', {
			dataDir,
			logIds: [log.id],
			revisionId: log.revisionId,
			strategy
		});
		if (!answer.ok) throw new InputError(answer.message);
		return json(answer.proposal);
	});
