/** Received files: kept byte for byte under their SHA-256 in the data folder. Names from outside never become paths. */
import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream, existsSync } from 'node:fs';
import { copyFile, link, mkdir, open, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Readable, Transform } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { createGunzip, createGzip } from 'node:zlib';
import { containerOf } from '$core/logfile/bytes.ts';
import { InputError } from '$core/input-error.ts';
import { refuseWithoutRoom } from './disk-space.ts';

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

/** Files whose row is about to be written, each with how often it came in and until when that is believed. */
const arriving = new Map<string, { times: number; until: number }>();
const ARRIVES_WITHIN_MS = 3_600_000;

/** Whether somebody is about to write a row that names this file: nobody takes it away meanwhile. */
export const isArriving = (sha256: string, now = Date.now()): boolean =>
	(arriving.get(sha256)?.until ?? -Infinity) > now;

/** The row that names a received file is written. */
export function arrived({ sha256 }: Pick<StoredFile, 'sha256'>): void {
	const known = arriving.get(sha256);
	if (known && known.times > 1) known.times--;
	else arriving.delete(sha256);
}

/** Puts a whole temporary file into its place under its hash. */
async function keep(dataDir: string, temporary: string, sha256: string): Promise<void> {
	arriving.set(sha256, {
		times: (arriving.get(sha256)?.times ?? 0) + 1,
		until: Date.now() + ARRIVES_WITHIN_MS
	});
	const file = await open(temporary, 'r+');
	await file.sync();
	await file.close();
	const path = pathOfFile(dataDir, sha256);
	await mkdir(join(path, '..'), { recursive: true });
	await rename(temporary, path);
}

/** Hashes and counts what flows through. */
function meter(limit: number) {
	const hash = createHash('sha256');
	const counted = { bytes: 0 };
	const through = new Transform({
		transform(chunk: Uint8Array, _encoding, done) {
			counted.bytes += chunk.length;
			if (counted.bytes > limit)
				return done(new InputError(`the file is larger than ${Math.round(limit / (1 << 20))} MB`));
			hash.update(chunk);
			done(null, chunk);
		}
	});
	return { hash, counted, through };
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
	await refuseWithoutRoom(dataDir, 0);
	const incoming = join(dataDir, 'incoming');
	await mkdir(incoming, { recursive: true });
	const temporary = join(incoming, randomUUID());
	const { hash, counted, through } = meter(limit);
	try {
		await pipeline(Readable.fromWeb(body), through, createWriteStream(temporary));
		if (counted.bytes === 0) throw new InputError('the file is empty');
		const sha256 = hash.digest('hex');
		await keep(dataDir, temporary, sha256);
		return { sha256, bytes: counted.bytes };
	} catch (e) {
		await rm(temporary, { force: true });
		throw e;
	}
}

/**
 * Takes over a file that arrived in pieces. It stays where it is under a second name (no bytes are copied): whoever sent it removes it once
 * something refers to what was taken over.
 */
export async function adopt(dataDir: string, path: string, limit: number): Promise<StoredFile> {
	const { hash, counted, through } = meter(limit);
	through.resume();
	await pipeline(createReadStream(path), through);
	if (counted.bytes === 0) throw new InputError('the file is empty');
	const sha256 = hash.digest('hex');
	const incoming = join(dataDir, 'incoming');
	await mkdir(incoming, { recursive: true });
	const second = join(incoming, randomUUID());
	// A disk without second names gets a copy.
	await link(path, second).catch(() => copyFile(path, second));
	await keep(dataDir, second, sha256);
	return { sha256, bytes: counted.bytes };
}

/** Above the fastest, below the smallest: text shrinks to about a quarter, at some 60 MB a second. */
const PACK_LEVEL = 4;

/** Keeps a received file compressed from now on; files that came compressed stay as they are. Returns whether it is packed. */
export async function packFile(dataDir: string, sha256: string): Promise<boolean> {
	const plain = pathOfFile(dataDir, sha256);
	const packed = `${plain}.gz`;
	if (!existsSync(plain)) return existsSync(packed);
	const file = await open(plain, 'r');
	const head = Buffer.alloc(4);
	await file.read(head, 0, 4, 0);
	await file.close();
	if (['gzip', 'zip', 'parquet'].includes(containerOf(head))) return false;
	const temporary = join(dataDir, 'incoming', randomUUID());
	await mkdir(join(dataDir, 'incoming'), { recursive: true });
	try {
		await pipeline(createReadStream(plain), createGzip({ level: PACK_LEVEL }), createWriteStream(temporary));
		const out = await open(temporary, 'r+');
		await out.sync();
		await out.close();
		// First the new one is there, then the old one goes: a stop in between leaves both, and both are whole.
		await rename(temporary, packed);
		await rm(plain);
		return true;
	} catch (e) {
		await rm(temporary, { force: true });
		throw e;
	}
}

/** The bytes of a stored file, as they were received. */
export function openFile(dataDir: string, sha256: string, chunkBytes = 1 << 16): Readable {
	const plain = pathOfFile(dataDir, sha256);
	if (existsSync(plain)) return createReadStream(plain, { highWaterMark: chunkBytes });
	const unpacked = createGunzip({ chunkSize: chunkBytes });
	const source = createReadStream(`${plain}.gz`, { highWaterMark: chunkBytes });
	source.once('error', (e) => unpacked.destroy(e));
	return source.pipe(unpacked);
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

/** A text as the body of a file. */
export const textBody = (text: string): ReadableStream<Uint8Array> =>
	new Blob([text]).stream() as unknown as ReadableStream<Uint8Array>;

/** Uploads that a crash cut off; nothing refers to them. */
export async function clearIncoming(dataDir: string): Promise<void> {
	await rm(join(dataDir, 'incoming'), { recursive: true, force: true });
}

/** A file's name as it may be shown and sent: no path, no control characters, not too long. */
export function safeName(name: string): string {
	const base = name
		.replace(/^.*[\\/]/, '')
		// Marks that turn the direction of the text let "exe.vsc" look like "csv.exe"; invisible ones make two names look like one.
		.replace(/[\u0000-\u001f\u007f"<>|\u061c\u200b-\u200f\u2028-\u202e\u2060-\u2069\ufeff]/g, '')
		.trim();
	// By characters as people see them: half an emoji is none.
	const seen = Array.from(new Intl.Segmenter().segment(base), (s) => s.segment);
	return seen.slice(0, 120).join('').slice(0, 400) || 'unnamed';
}
