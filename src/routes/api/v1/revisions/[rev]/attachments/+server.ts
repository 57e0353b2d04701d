import { json } from '@sveltejs/kit';
import { assertMayAttach, attach } from '$lib/server/attachments';
import { bodyOf, MAX_ATTACHMENT_BYTES, receive } from '$lib/server/files';
import { anyRevisionOr404, jobOr404, orJson } from '$lib/server/http';
import type { RequestHandler } from './$types';

/** Attaches a closed file to a draft: the body is the file; name, hardware and software stand in the query. */
export const PUT: RequestHandler = async ({ params, request, url, locals }) =>
	orJson(async () => {
		const draft = await anyRevisionOr404(locals.app, params.rev);
		const job = await jobOr404(locals.app, String(draft.jobId));
		const get = (k: string) => url.searchParams.get(k)?.trim() ?? '';
		const about = { name: get('name'), hardware: get('hardware'), software: get('software') };
		assertMayAttach(draft, job.vehicle, about.hardware, about.software);
		const file = await receive(locals.app.dataDir, bodyOf(request), MAX_ATTACHMENT_BYTES);
		await attach(locals.app.db, draft, file, about);
		return json({ sha256: file.sha256, bytes: file.bytes, id: draft.id }, { status: 201 });
	});
