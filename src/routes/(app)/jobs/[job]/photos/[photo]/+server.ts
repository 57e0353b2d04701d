import { idOf, jobOr404, photoResponse } from '$lib/server/http/http';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return photoResponse(locals.app, job.id, idOf(params.photo));
};
