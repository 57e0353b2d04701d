import { jobOr404 } from '$lib/server/http/http';
import { handleUpload } from '$lib/server/use-cases/uploads';
import type { RequestHandler } from './$types';

/** The pieces of a log that the tuner adds to a job. */
const handle: RequestHandler = async ({ params, request, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return handleUpload(locals.app, request, `/api/v1/jobs/${job.id}/uploads`, job.id, 'tuner');
};

export const POST = handle;
export const PATCH = handle;
export const HEAD = handle;
export const DELETE = handle;
