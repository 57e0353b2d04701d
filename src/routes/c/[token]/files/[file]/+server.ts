import { error } from '@sveltejs/kit';
import { Readable } from 'node:stream';
import { jobOfLink } from '$lib/server/http/customer';
import { openFile } from '$lib/server/storage/files';
import { handedOut } from '$lib/server/revisions/handed-out';
import { download } from '$lib/server/http/http';
import { currentRevision } from '$lib/server/revisions/revisions';
import type { RequestHandler } from './$types';

/** A closed file of the current release. */
export const GET: RequestHandler = async (event) => {
	const { db, dataDir } = event.locals.app;
	const current = await currentRevision(db, await jobOfLink(event));
	const file = (await handedOut(db, current)).files.find((a) => String(a.id) === event.params.file);
	if (!file) error(404, 'There is no such file in what was released for you.');
	const stream = Readable.toWeb(openFile(dataDir, file.sha256));
	return download(stream as unknown as ReadableStream, file.name);
};
