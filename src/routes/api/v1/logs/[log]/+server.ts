import { json } from '@sveltejs/kit';
import { anyLogOr404 } from '$lib/server/http/http';
import { screeningOf } from '$lib/server/logs/logs';
import type { RequestHandler } from './$types';

/** State of a log and, once it is screened, its report (`tanto.screen/1`). */
export const GET: RequestHandler = async ({ params, locals }) => {
	const log = await anyLogOr404(locals.app, params.log);
	const screening = log.state === 'screened' ? await screeningOf(locals.app.db, log.id) : null;
	return json({
		state: log.state,
		progress: log.progress,
		message: log.message,
		report: screening?.report ?? null
	});
};
