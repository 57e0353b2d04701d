import { error } from '@sveltejs/kit';
import { uploadWait } from '$lib/server/auth/throttle';
import { jobOfLink } from '$lib/server/http/customer';
import { handleUpload } from '$lib/server/use-cases/uploads';
import type { RequestHandler } from './$types';

/** The pieces of a log that a customer sends. Nothing can be read back here. */
const handle: RequestHandler = async (event) => {
	const { params, request, locals } = event;
	const jobId = await jobOfLink(event);
	if (request.method === 'POST') {
		const wait = await uploadWait(jobId);
		if (wait > 0) error(429, `Too many files. Wait ${Math.ceil(wait / 60)} minutes and try again.`);
	}
	return handleUpload(locals.app, request, `/c/${params.token}/uploads`, jobId, 'customer');
};

export const POST = handle;
export const PATCH = handle;
export const HEAD = handle;
export const DELETE = handle;
