/** How far two banks are apart, cell by cell and in each band of load. */
import { nearestCells } from './stats.ts';
import type { CellAxes } from '../../calibration/grid.ts';

export const BANDS = ['idle', 'light', 'medium', 'loaded'] as const;
export type Band = (typeof BANDS)[number];

export interface BankCell {
	/** Index into the cells, row by row. */
	cell: number;
	/** k of bank 2 / k of bank 1 − 1, in percent. */
	differencePct: number;
	/** Samples of each bank. */
	samples: number;
	seconds: number;
}

export interface BandDifference {
	band: Band;
	/** |difference| weighted by time over the band's cells, percent; NaN when the band has too few samples. */
	absolutePct: number;
	/** Signed mean, percent: positive = bank 2 leaner. */
	signedPct: number;
	/** Standard error of the signed mean, percent, from the scatter between cells and samples. */
	sePct: number;
	samples: number;
	cells: BankCell[];
}

export interface BankInput {
	axes: CellAxes;
	x: Float32Array;
	y: Float32Array;
	/** Required correction of each bank. */
	k1: Float32Array;
	k2: Float32Array;
	/** Band per sample as an index into `BANDS`, 255 for samples that don't count. */
	band: Uint8Array;
	dtS: Float64Array;
	minSamples: number;
}

/** Per band of load: the difference per cell (nearest, at least `minSamples` of each bank), weighted by time. */
export function bankDifferences(input: BankInput): BandDifference[] {
	const { axes, x, y, k1, k2, dtS, minSamples } = input;
	const count = axes.x.length * axes.y.length;
	const both = new Float32Array(k1.length);
	const use = new Uint8Array(k1.length);
	for (let i = 0; i < both.length; i++) {
		both[i] = k1[i]! + k2[i]!;
		use[i] = input.band[i] === 255 ? 0 : 1;
	}
	const cells = nearestCells({ axes, x, y, value: both, use });
	// Sums of all bands in one pass: by cell, band after band, and over each band.
	const n = new Float64Array(BANDS.length * count);
	const s1 = new Float64Array(n.length);
	const s2 = new Float64Array(n.length);
	const time = new Float64Array(n.length);
	const off = new Float64Array(BANDS.length);
	const squared = new Float64Array(BANDS.length);
	for (let i = 0; i < cells.length; i++) {
		if (cells[i]! < 0) continue;
		const b = input.band[i]!;
		const c = b * count + cells[i]!;
		const first = k1[i]!;
		const second = k2[i]!;
		n[c]!++;
		s1[c]! += first;
		s2[c]! += second;
		time[c]! += dtS[i]!;
		const d = second / first - 1;
		off[b]! += d;
		squared[b]! += d * d;
	}
	return BANDS.map((band, b) => {
		const from = b * count;
		const total = (sums: Float64Array) => sums.subarray(from, from + count).reduce((s, v) => s + v, 0);
		const all = total(n);
		const list: BankCell[] = [];
		for (let cell = 0; cell < count; cell++) {
			const c = from + cell;
			if (n[c]! >= minSamples)
				list.push({
					cell,
					differencePct: 100 * (s2[c]! / s1[c]! - 1),
					samples: n[c]!,
					seconds: time[c]!
				});
		}
		// A band that swept through its cells too fast for any of them is still judged as a whole.
		const judged =
			list.length > 0 || all < minSamples
				? list
				: [
						{
							cell: -1,
							differencePct: 100 * (total(s2) / total(s1) - 1),
							samples: all,
							seconds: total(time)
						}
					];
		const judgedS = judged.reduce((s, c) => s + c.seconds, 0);
		const mean = off[b]! / all;
		return {
			band,
			absolutePct:
				judgedS > 0
					? judged.reduce((s, c) => s + Math.abs(c.differencePct) * c.seconds, 0) / judgedS
					: Number.NaN,
			signedPct:
				judgedS > 0 ? judged.reduce((s, c) => s + c.differencePct * c.seconds, 0) / judgedS : Number.NaN,
			sePct:
				all > 1
					? (100 * Math.sqrt(Math.max(0, squared[b]! / all - mean * mean))) / Math.sqrt(all)
					: Number.NaN,
			samples: all,
			cells: list
		};
	});
}
