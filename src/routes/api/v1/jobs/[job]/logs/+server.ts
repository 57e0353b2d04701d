import { jobOr404 } from '$lib/server/http/http';
import { receiveLog } from '$lib/server/http/log-request';
import type { RequestHandler } from './$types';

/** Receives a log: the body is the file, `name` its name. */
export const PUT: RequestHandler = async ({ params, request, url, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return receiveLog(locals.app, job.id, request, url.searchParams.get('name') ?? '', 'tuner');
};
