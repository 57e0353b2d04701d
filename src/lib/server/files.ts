/** Received files: kept byte for byte under their SHA-256 in the data folder. Names from outside never become paths. */
import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, open, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Readable, Transform } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { InputError } from '../../core/input-error.ts';

export const MAX_LOG_BYTES = 1 << 30;
export const MAX_ATTACHMENT_BYTES = 64 << 20;

export interface StoredFile {
	sha256: string;
	bytes: number;
}

export function pathOfFile(dataDir: string, sha256: string): string {
	if (!/^[0-9a-f]{64}$/.test(sha256)) throw new RangeError('not a SHA-256');
	return join(dataDir, 'files', sha256.slice(0, 2), sha256);
}

/**
 * Receives a stream into the data folder: whole, hashed and on disk, or not there at all.
 * @throws InputError when it is empty or larger than `limit`
 */
export async function receive(
	dataDir: string,
	body: ReadableStream<Uint8Array>,
	limit: number
): Promise<StoredFile> {
	const incoming = join(dataDir, 'incoming');
	await mkdir(incoming, { recursive: true });
	const temporary = join(incoming, randomUUID());
	const hash = createHash('sha256');
	let bytes = 0;
	const measure = new Transform({
		transform(chunk: Uint8Array, _encoding, done) {
			bytes += chunk.length;
			if (bytes > limit)
				return done(new InputError(`the file is larger than ${Math.round(limit / (1 << 20))} MB`));
			hash.update(chunk);
			done(null, chunk);
		}
	});
	try {
		await pipeline(Readable.fromWeb(body), measure, createWriteStream(temporary));
		if (bytes === 0) throw new InputError('the file is empty');
		const file = await open(temporary, 'r+');
		await file.sync();
		await file.close();
		const sha256 = hash.digest('hex');
		const path = pathOfFile(dataDir, sha256);
		await mkdir(join(path, '..'), { recursive: true });
		await rename(temporary, path);
		return { sha256, bytes };
	} catch (e) {
		await rm(temporary, { force: true });
		throw e;
	}
}

/**
 * The body of a request that carries a file.
 * @throws InputError when it has none
 */
export function bodyOf(request: Request): ReadableStream<Uint8Array> {
	if (request.body) return request.body as unknown as ReadableStream<Uint8Array>;
	// The server side doesn't hand over a body that doesn't say what it is.
	if (!request.headers.get('content-type'))
		throw new InputError('the request says no content-type; send the file with application/octet-stream');
	throw new InputError('the file is empty');
}

/** Uploads that a crash cut off; nothing refers to them. */
export async function clearIncoming(dataDir: string): Promise<void> {
	await rm(join(dataDir, 'incoming'), { recursive: true, force: true });
}

/** A file's name as it may be shown and sent: no path, no control characters, not too long. */
export function safeName(name: string): string {
	const base = name
		.replace(/^.*[\\/]/, '')
		.replace(/[\u0000-\u001f\u007f"<>|]/g, '')
		.trim();
	return base.slice(0, 120) || 'unnamed';
}
