import { json } from '@sveltejs/kit';
import { arrived, bodyOf, MAX_ATTACHMENT_BYTES, receive } from '$lib/server/storage/files';
import { anyLogOr404, orJson, tunerOr401 } from '$lib/server/http/http';
import { joinRecorder } from '$lib/server/use-cases/second-recorders';
import type { RequestHandler } from './$types';

/** Joins the file of a second recorder to a log: the body is the file, its name stands in the query. */
export const PUT: RequestHandler = async ({ params, request, url, locals }) =>
	orJson(async () => {
		const { app } = locals;
		const log = await anyLogOr404(app, params.log);
		const author = tunerOr401(locals).name;
		const file = await receive(app.dataDir, bodyOf(request), MAX_ATTACHMENT_BYTES);
		// From here on a row names it, or the join itself took it away again.
		arrived(file);
		const { picture: _, ...answer } = await joinRecorder(
			app,
			log,
			file,
			url.searchParams.get('name')?.trim() || 'second recorder',
			author
		);
		return json(answer, { status: 201 });
	});
