import { error, json } from '@sveltejs/kit';
import { anyLogOr404 } from '$lib/server/http/http';
import { screeningOf } from '$lib/server/logs/logs';
import type { RequestHandler } from './$types';

/** The curves of one pull of a log over engine speed, counted from 0. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const log = await anyLogOr404(locals.app, params.log);
	const pull = (await screeningOf(locals.app.db, log.id))?.pulls[Number(params.pull)];
	return pull ? json(pull) : error(404, 'This log has no such pull.');
};
