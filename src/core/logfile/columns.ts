/**
 * Columns of a log that are made from others, sample by sample. Plain loops: over 144 000 samples `TypedArray.prototype.map` takes
 * 7 times as long and `TypedArray.from` with a function 60 times, and a screening makes dozens of them.
 */
import type { Run } from '../stats/runs.ts';

/** A column with `valueAt(value, i)` for every sample of another, or for those in the runs of `within` and NaN elsewhere. */
export function derived(
	values: Float32Array,
	valueAt: (v: number, i: number) => number,
	within?: readonly Run[]
): Float32Array {
	const out = new Float32Array(values.length);
	if (within) out.fill(Number.NaN);
	for (const { from, to } of within ?? [{ from: 0, to: out.length - 1 }])
		for (let i = from; i <= to; i++) out[i] = valueAt(values[i]!, i);
	return out;
}

/** 1 for each of `length` samples at which `holds`, else 0. */
export function maskOf(length: number, holds: (i: number) => boolean): Uint8Array {
	const out = new Uint8Array(length);
	for (let i = 0; i < length; i++) if (holds(i)) out[i] = 1;
	return out;
}
