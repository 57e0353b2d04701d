import { json } from '@sveltejs/kit';
import { idOf, orJson, tunerOr401 } from '$lib/server/http/http';
import { addKitFile } from '$lib/server/revisions/recording-kits';
import { arrived, bodyOf, MAX_ATTACHMENT_BYTES, receive } from '$lib/server/storage/files';
import { dropFile } from '$lib/server/storage/stored-files';
import type { RequestHandler } from './$types';

/** A file for the recording kit of a controller: the body is the file, `name` its name. */
export const PUT: RequestHandler = ({ params, request, url, locals }) =>
	orJson(async () => {
		const { db, dataDir } = locals.app;
		const author = tunerOr401(locals).name;
		const file = await receive(dataDir, bodyOf(request), MAX_ATTACHMENT_BYTES);
		try {
			const name = url.searchParams.get('name') ?? '';
			const replaced = await addKitFile(db, idOf(params.layout), author, file, name);
			if (replaced) await dropFile(db, dataDir, replaced);
		} finally {
			arrived(file);
			// One that was refused is named by nothing.
			await dropFile(db, dataDir, file.sha256);
		}
		return json({ sha256: file.sha256, bytes: file.bytes }, { status: 201 });
	});
