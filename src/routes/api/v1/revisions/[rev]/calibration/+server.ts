import { anyRevisionOr404, download } from '$lib/server/http';
import type { RequestHandler } from './$types';

/** The calibration of a revision as `tanto.calibration/1`. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const r = await anyRevisionOr404(locals.app, params.rev);
	return download(`${JSON.stringify(r.calibration, null, '\t')}\n`, `R${r.number}.json`, 'application/json');
};
