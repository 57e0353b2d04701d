/**
 * From what was sent to plain UTF-8 bytes of text: gzip and zip are unpacked, UTF-16 is turned into UTF-8, all in chunks. Limits keep
 * a small file from becoming an endless one.
 */
import { Gunzip, Unzip, UnzipInflate, UnzipPassThrough, type UnzipFile } from 'fflate';
import { InputError } from '../input-error.ts';

/**
 * Most that an archive may unpack to (no more than a text may have), and the share over its packed size from which it is taken for a
 * bomb: logs pack to a tenth, hardly any to a fiftieth.
 */
export const MAX_UNPACKED_BYTES = 2 ** 30;
const MAX_RATIO = 100;
const RATIO_COUNTS_FROM = 64 << 20;
/** Packed bytes that are unpacked at once: at deflate's most extreme they become 4 MB, so that the count comes before the memory. */
const SLICE = 4096;

function sliced(chunk: Uint8Array, push: (slice: Uint8Array) => void): void {
	for (let at = 0; at < chunk.length; at += SLICE) push(chunk.slice(at, at + SLICE));
}

export type Container = 'gzip' | 'zip' | 'utf-16le' | 'utf-16be' | 'parquet' | 'text';

/** What the first bytes say that a file is. */
export function containerOf(head: Uint8Array): Container {
	const [a, b, c, d] = head;
	if (a === 0x1f && b === 0x8b) return 'gzip';
	if (a === 0x50 && b === 0x4b && c === 3 && d === 4) return 'zip';
	if (a === 0xff && b === 0xfe) return 'utf-16le';
	if (a === 0xfe && b === 0xff) return 'utf-16be';
	if (a === 0x50 && b === 0x41 && c === 0x52 && d === 0x31) return 'parquet';
	return 'text';
}

type Sink = (chunk: Uint8Array) => void;

interface Stage {
	push(chunk: Uint8Array): void;
	/** @throws InputError when what was packed ends early */
	end(): void;
}

/** Takes the chunks of a file as received and hands plain text on; nested once (a packed UTF-16 text), not more. */
export class Unpacker {
	private head: Uint8Array | null = new Uint8Array(0);
	private stage: Stage | null = null;

	constructor(
		private readonly sink: Sink,
		/** Size of the file, where it is known. */
		private readonly totalBytes?: number,
		private readonly depth = 0
	) {}

	push(chunk: Uint8Array): void {
		if (this.stage) return this.stage.push(chunk);
		const head = joined(this.head!, chunk);
		this.head = head;
		if (head.length >= 4) this.begin();
	}

	end(): void {
		if (!this.stage) this.begin();
		this.stage!.end();
	}

	private begin(): void {
		const head = this.head!;
		this.head = null;
		this.stage = this.stageFor(containerOf(head));
		this.stage.push(head);
	}

	private stageFor(container: Container): Stage {
		const next = () => new Unpacker(this.sink, undefined, this.depth + 1);
		if ((container === 'gzip' || container === 'zip') && this.depth > 0)
			throw new InputError('an archive inside an archive; send the log itself, packed at most once');
		switch (container) {
			case 'gzip':
				return gunzip(next(), this.totalBytes);
			case 'zip':
				return unzip(next(), this.totalBytes);
			case 'utf-16le':
			case 'utf-16be':
				return new Utf16(this.sink, container === 'utf-16le');
			case 'parquet':
				if (this.depth > 0) throw new InputError('send a Parquet file as it is, not packed');
				return { push: this.sink, end: () => {} };
			case 'text':
				return { push: this.sink, end: () => {} };
		}
	}
}

function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
	const out = new Uint8Array(a.length + b.length);
	out.set(a);
	out.set(b, a.length);
	return out;
}

/** From here on what the rest will come to is judged by what came so far; further over the limit than this it is refused at once. */
const FORESEEN_FROM = 32 << 20;
const CERTAINLY = 1.25;

/**
 * Counts what goes in and comes out, and stops a bomb.
 * @param totalBytes size of the packed file, where it is known
 */
function guard(totalBytes = 0) {
	let packed = 0;
	let unpacked = 0;
	return {
		in: (n: number) => (packed += n),
		out: (n: number) => {
			unpacked += n;
			if (unpacked > MAX_UNPACKED_BYTES)
				throw new InputError(`unpacks to more than ${MAX_UNPACKED_BYTES >> 20} MB; no log is that long`);
			const foreseen = unpacked > FORESEEN_FROM ? (unpacked / packed) * totalBytes : 0;
			if (foreseen > MAX_UNPACKED_BYTES * CERTAINLY)
				throw new InputError(
					`would unpack to about ${Math.round(foreseen / 2 ** 20)} MB; at most ${MAX_UNPACKED_BYTES >> 20} MB are read. Cut the recording into parts`
				);
			if (unpacked > RATIO_COUNTS_FROM && unpacked > packed * MAX_RATIO)
				throw new InputError('unpacks to far more than any log does; the archive is refused');
		}
	};
}

function gunzip(next: Unpacker, totalBytes: number | undefined): Stage {
	const limit = guard(totalBytes);
	let ended = false;
	const stream = new Gunzip((chunk, final) => {
		limit.out(chunk.length);
		next.push(chunk);
		ended = final;
	});
	const tell = <T>(work: () => T): T => {
		try {
			return work();
		} catch (e) {
			if (e instanceof InputError) throw e;
			throw new InputError('the gzip file is damaged or ends early; send it again');
		}
	};
	return {
		push: (chunk) => {
			limit.in(chunk.length);
			sliced(chunk, (slice) => tell(() => stream.push(slice)));
		},
		end: () => {
			tell(() => stream.push(new Uint8Array(0), true));
			if (!ended) throw new InputError('the gzip file is damaged or ends early; send it again');
			next.end();
		}
	};
}

/** Only what could be a log counts: folders, hidden files and what systems add are passed over. */
function isLogEntry(name: string): boolean {
	const base = name.slice(name.lastIndexOf('/') + 1);
	return base !== '' && !base.startsWith('.') && !name.startsWith('__MACOSX/');
}

function unzip(next: Unpacker, totalBytes: number | undefined): Stage {
	const limit = guard(totalBytes);
	let entries = 0;
	let open = 0;
	let finished = 0;
	let fault: Error | null = null;
	const archive = new Unzip((entry: UnzipFile) => {
		if (!isLogEntry(entry.name)) return;
		entries++;
		if (entries > 1) throw new InputError('the zip holds more than one file; send one log an archive');
		open++;
		entry.ondata = (error, chunk, final) => {
			if (error) {
				fault = error;
				return;
			}
			limit.out(chunk.length);
			next.push(chunk);
			if (final) finished++;
		};
		entry.start();
	});
	archive.register(UnzipInflate);
	archive.register(UnzipPassThrough);
	const tell = (work: () => void) => {
		try {
			work();
		} catch (e) {
			if (e instanceof InputError) throw e;
			fault = e instanceof Error ? e : new Error(String(e));
		}
		// What a stage behind the archive refused comes back as the archive's own fault.
		if (fault instanceof InputError) throw fault;
		if (fault)
			throw new InputError(
				'the zip file is damaged, ends early, or is packed in a way that is not read; send it again'
			);
	};
	return {
		push: (chunk) => {
			limit.in(chunk.length);
			sliced(chunk, (slice) => tell(() => archive.push(slice)));
		},
		end: () => {
			tell(() => archive.push(new Uint8Array(0), true));
			if (entries === 0) throw new InputError('the zip holds no file');
			if (finished < open)
				throw new InputError(
					'the zip file is damaged, ends early, or is packed in a way that is not read; send it again'
				);
			next.end();
		}
	};
}

/** UTF-16 to UTF-8, in chunks of any size. */
class Utf16 implements Stage {
	private odd = -1;
	private high = 0;
	private started = false;
	constructor(
		private readonly sink: Sink,
		private readonly little: boolean
	) {}

	push(chunk: Uint8Array): void {
		const out = new Uint8Array(chunk.length * 2 + 4);
		let n = 0;
		for (let i = 0; i < chunk.length; i++) {
			if (this.odd < 0) {
				this.odd = chunk[i]!;
				continue;
			}
			const unit = this.little ? this.odd | (chunk[i]! << 8) : (this.odd << 8) | chunk[i]!;
			this.odd = -1;
			if (!this.started) {
				this.started = true;
				if (unit === 0xfeff) continue;
			}
			if (unit >= 0xd800 && unit < 0xdc00) {
				this.high = unit;
				continue;
			}
			let point = unit;
			if (unit >= 0xdc00 && unit < 0xe000)
				point = this.high ? 0x10000 + ((this.high - 0xd800) << 10) + (unit - 0xdc00) : 0xfffd;
			this.high = 0;
			if (point < 0x80) out[n++] = point;
			else if (point < 0x800) {
				out[n++] = 0xc0 | (point >> 6);
				out[n++] = 0x80 | (point & 63);
			} else if (point < 0x10000) {
				out[n++] = 0xe0 | (point >> 12);
				out[n++] = 0x80 | ((point >> 6) & 63);
				out[n++] = 0x80 | (point & 63);
			} else {
				out[n++] = 0xf0 | (point >> 18);
				out[n++] = 0x80 | ((point >> 12) & 63);
				out[n++] = 0x80 | ((point >> 6) & 63);
				out[n++] = 0x80 | (point & 63);
			}
		}
		this.sink(out.subarray(0, n));
	}

	end(): void {}
}
