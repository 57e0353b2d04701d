/** A file of a recording kit as an answer: pictures as what their name says and nothing else, the rest to be saved. */
import { error } from '@sveltejs/kit';
import { Readable } from 'node:stream';
import type { KitFile } from '$lib/server/revisions/recording-kits.ts';
import { openFile } from '$lib/server/storage/files.ts';
import { download } from './http.ts';

export function kitResponse(dataDir: string, files: readonly KitFile[], id: string): Response {
	const file =
		files.find((f) => String(f.id) === id) ?? error(404, 'There is no such file in the recording kit.');
	const stream = Readable.toWeb(openFile(dataDir, file.sha256)) as unknown as ReadableStream;
	return download(stream, file.name, file.picture ?? undefined);
}
