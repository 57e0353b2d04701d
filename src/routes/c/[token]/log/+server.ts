import { jobOfLink } from '$lib/server/customer';
import { receiveLog } from '$lib/server/receive-log';
import type { RequestHandler } from './$types';

export const PUT: RequestHandler = async ({ params, request, url, locals }) => {
	const jobId = await jobOfLink(locals.app, params.token);
	return receiveLog(locals.app, jobId, request, url.searchParams.get('name') ?? '', 'customer');
};
