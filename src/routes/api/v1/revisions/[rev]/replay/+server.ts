import { json } from '@sveltejs/kit';
import { InputError } from '$core/input-error';
import { anyRevisionOr404, idOf, orJson } from '$lib/server/http/http';
import { replayOf } from '$lib/server/views/replays';
import type { RequestHandler } from './$types';

/** A log of the job (`log`, else the newest made with the parent) as it would have been with this revision. */
export const GET: RequestHandler = async ({ params, url, locals }) =>
	orJson(async () => {
		const rev = await anyRevisionOr404(locals.app, params.rev);
		const named = url.searchParams.get('log');
		const { replay, problem } = await replayOf(locals.app, rev, named === null ? undefined : idOf(named));
		if (!replay) throw new InputError(problem);
		return json(replay);
	});
