/** All of a customer or of one job as one ZIP, made as fast as it is taken away; beyond 4 GB as well. */
import { PassThrough, Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import type { App } from '$lib/server/context.ts';
import { openFile } from '$lib/server/storage/files.ts';
import type { Scope } from './belongings.ts';
import { recordOf } from './record.ts';

/**
 * record.json, the logs as they were received, photos, closed files. A file that is missing on the disk is named in `missing.txt` instead of
 * breaking the rest.
 */
export async function exportArchive(
	{ db, dataDir }: Pick<App, 'db' | 'dataDir'>,
	scope: Scope
): Promise<ReadableStream<Uint8Array>> {
	const { record, files } = await recordOf(db, scope);
	const zip = new ZipFile();
	const missing: string[] = [];
	let reading: Readable | null = null;
	zip.addBuffer(Buffer.from(JSON.stringify(record, null, '\t')), 'record.json');
	for (const { path, sha256 } of files)
		// Opened when its turn comes, one at a time, and never more than was taken: years of logs are larger than the memory.
		zip.addReadStreamLazy(path, { compress: false }, (give) => {
			reading = openFile(dataDir, sha256);
			const through = new PassThrough();
			reading.once('error', () => {
				missing.push(path);
				through.end();
			});
			reading.once('close', () => (reading = null));
			give(null, reading.pipe(through));
		});
	zip.addReadStreamLazy('missing.txt', (give) =>
		give(
			null,
			Readable.from([missing.length ? `Not found on the disk of the server:\n${missing.join('\n')}\n` : ''])
		)
	);
	zip.end();
	const out = zip.outputStream as Readable;
	// Who breaks the download off leaves no file open.
	out.once('close', () => reading?.destroy());
	return Readable.toWeb(out) as ReadableStream<Uint8Array>;
}
