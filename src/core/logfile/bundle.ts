/**
 * A log on its way to whoever computes with it: a stream of pieces, each a length (4 bytes, little endian), then that many bytes. The
 * first is JSON text (`BundleHead`), then for each column of it its blocks, packed by `pack32` or `packClock` and deflated, in order.
 */
import { packedLength, unpack32, unpackClock } from './pack.ts';
import type { Log, LogChannel, TimeFaults } from './log.ts';

export interface BundleColumn extends Omit<LogChannel, 'timeS' | 'values'> {
	/** Number of the time axis; the column `time` with that number holds it. */
	base: number;
	blocks: number;
}

export interface BundleHead {
	rows: number;
	durationS: number;
	timeFaults: TimeFaults;
	columns: BundleColumn[];
}

/** One piece with its length before it. */
export function piece(bytes: Uint8Array): Uint8Array {
	const out = new Uint8Array(bytes.length + 4);
	new DataView(out.buffer).setUint32(0, bytes.length, true);
	out.set(bytes, 4);
	return out;
}

/** The pieces of a whole bundle. @throws RangeError for one that is cut off */
export function piecesOf(bundle: Uint8Array): Uint8Array[] {
	const view = new DataView(bundle.buffer, bundle.byteOffset, bundle.byteLength);
	const out: Uint8Array[] = [];
	let at = 0;
	while (at < bundle.length) {
		if (at + 4 > bundle.length) throw new RangeError('the log arrived cut off');
		const length = view.getUint32(at, true);
		at += 4;
		if (at + length > bundle.length) throw new RangeError('the log arrived cut off');
		out.push(bundle.subarray(at, at + length));
		at += length;
	}
	return out;
}

/** The log of a bundle. @param inflate undoes raw deflate */
export async function logFromBundle(
	pieces: readonly Uint8Array[],
	head: BundleHead,
	inflate: (bytes: Uint8Array) => Promise<Uint8Array>
): Promise<Log> {
	const bases = new Map<number, Float64Array>();
	const channels: LogChannel[] = [];
	let at = 1;
	for (const column of head.columns) {
		const { base, blocks, ...channel } = column;
		const packed = await Promise.all(pieces.slice(at, at + blocks).map(inflate));
		at += blocks;
		const n = packed.reduce((s, p) => s + packedLength(p), 0);
		if (column.id === 'time') {
			const timeS = new Float64Array(n);
			let to = 0;
			for (const p of packed) {
				const part = unpackClock(p);
				timeS.set(part, to);
				to += part.length;
			}
			bases.set(base, timeS);
			continue;
		}
		const values = new Float32Array(n);
		let to = 0;
		for (const p of packed) {
			const part = unpack32(p, channel.conversion);
			values.set(part, to);
			to += part.length;
		}
		const timeS = bases.get(base);
		if (!timeS) throw new RangeError(`the time axis of ${channel.id} is missing`);
		channels.push({ ...channel, timeS, values });
	}
	const { rows, durationS, timeFaults } = head;
	return { channels, unmapped: [], rows, durationS, notes: [], timeFaults };
}
