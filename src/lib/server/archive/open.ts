/** An archive of a job that came from outside, opened: its record and its files, each checked against what the record says of it. */
import { text } from 'node:stream/consumers';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { openPromise, type Entry, type ZipFile } from 'yauzl';
import { z } from 'zod';
import { InputError } from '$core/input-error.ts';
import { parseJson, parseWith } from '$core/parse.ts';
import { isFull } from '$lib/server/storage/disk-space.ts';
import { MAX_LOG_BYTES, receive, type StoredFile } from '$lib/server/storage/files.ts';

const row = z.record(z.string(), z.union([z.string(), z.number(), z.null()]));
export type ArchivedRow = z.infer<typeof row>;

const recordSchema = z.object({
	schema: z.literal(
		'tanto.job-archive/1',
		'this is no archive of a job: make one on the page Report of the job'
	),
	tables: z.record(z.string(), z.array(row)),
	layout: row.nullable(),
	timeline: z.array(z.object({ kind: z.string(), ref: z.int() })),
	files: z.array(z.object({ path: z.string(), sha256: z.string().regex(/^[0-9a-f]{64}$/) }))
});
export type ArchiveRecord = z.infer<typeof recordSchema>;

/** A record of a job of many years has tens of MB. */
const MAX_RECORD_BYTES = 512 << 20;
const MAX_ENTRIES = 100_000;

async function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
	const entries = new Map<string, Entry>();
	for await (const entry of zip.eachEntry()) {
		if (entries.size >= MAX_ENTRIES) throw new InputError('the archive has more files than any job');
		entries.set(entry.fileName, entry);
	}
	return entries;
}

async function textOf(zip: ZipFile, entry: Entry | undefined, name: string): Promise<string> {
	if (!entry) throw new InputError(`the archive has no ${name}`);
	if (entry.uncompressedSize > MAX_RECORD_BYTES) throw new InputError(`${name} in the archive is too large`);
	return text(await zip.openReadStreamPromise(entry));
}

export interface OpenedArchive {
	record: ArchiveRecord;
	/** Its files, in the data folder. The caller says of each that it arrived. */
	files: StoredFile[];
	/** Hashes whose file was lost where the archive was made. */
	lost: ReadonlySet<string>;
}

/**
 * Reads an archive and takes its files into the data folder.
 * @param taken gets each file as soon as it lies there: what breaks off later is cleared away by it
 * @throws InputError where it is no archive, is cut off, or a file isn't the one that its record names
 */
export async function openArchive(
	dataDir: string,
	path: string,
	taken: StoredFile[]
): Promise<OpenedArchive> {
	const zip = await openPromise(path, { lazyEntries: true, autoClose: false }).catch((e: Error) => {
		throw new InputError(`this is no whole ZIP archive (${e.message}): was the download broken off?`);
	});
	try {
		const entries = await entriesOf(zip);
		const record = parseWith(
			recordSchema,
			parseJson(await textOf(zip, entries.get('record.json'), 'record.json'))
		);
		const missing = new Set((await textOf(zip, entries.get('missing.txt'), 'missing.txt')).split('\n'));
		const lost = new Set<string>();
		for (const { path: name, sha256 } of record.files) {
			if (missing.has(name)) {
				lost.add(sha256);
				continue;
			}
			const entry = entries.get(name);
			if (!entry) throw new InputError(`the archive lacks ${name}, which its record names`);
			const body = Readable.toWeb(await zip.openReadStreamPromise(entry)) as ReadableStream<Uint8Array>;
			const file = await receive(dataDir, body, MAX_LOG_BYTES);
			taken.push(file);
			if (file.sha256 !== sha256)
				throw new InputError(`${name} in the archive is another file than its record names`);
		}
		return { record, files: taken, lost };
	} catch (e) {
		// A full disk is no fault of the archive.
		if (e instanceof InputError || isFull(e)) throw e;
		throw new InputError(`the archive can’t be read: ${e instanceof Error ? e.message : String(e)}`);
	} finally {
		zip.close();
	}
}
