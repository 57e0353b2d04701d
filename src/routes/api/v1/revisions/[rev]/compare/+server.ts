import { json } from '@sveltejs/kit';
import { compare } from '$core/calibration/compare';
import { anyRevisionOr404 } from '$lib/server/http/http';
import type { RequestHandler } from './$types';

/** This revision against another one (`with`), of any job. */
export const GET: RequestHandler = async ({ params, url, locals }) => {
	const before = await anyRevisionOr404(locals.app, url.searchParams.get('with') ?? '');
	const after = await anyRevisionOr404(locals.app, params.rev);
	return json(compare(before.calibration, after.calibration));
};
