/**
 * Samples gathered into the cells of a grid: weighted mean, scatter, how much data stands behind it.
 * Bilinear weights use every sample without favouring cell edges; nearest takes each sample once.
 */
import { quantileInPlace } from '../../stats/stats.ts';
import { AxisFinder, type CellAxes } from '../../calibration/grid.ts';

export interface CellStats {
	nx: number;
	ny: number;
	/** Row by row (y), one value per x point; NaN where no sample is. */
	mean: Float64Array;
	/** Weighted standard deviation; NaN with less than two samples. */
	spread: Float64Array;
	/** Effective number of samples (Σw)² / Σw². */
	n: Float64Array;
	/** Standard error of the mean, with samples within one sensor lag of each other counted once. */
	se: Float64Array;
	/** Time that the samples stand for, weighted. */
	seconds: Float64Array;
}

export interface CellInput {
	axes: CellAxes;
	x: Float32Array;
	y: Float32Array;
	/** NaN samples are left out. */
	value: Float32Array;
	/** 0 leaves a sample out. */
	use: Uint8Array;
	timeS: Float64Array;
	dtS: Float64Array;
	lagS: Float32Array;
	method: 'bilinear' | 'nearest';
	/** Where the samples lie, when that is known already. */
	places?: Places;
	/** Weight of each sample, 0–1; all count alike when missing. */
	weight?: Float32Array;
	/** Values far from the median of their cell don't count (for ratios about 1), or everything does. */
	outliers?: 'dropped' | 'kept';
}

/** Σw, Σw², Σwv, Σwv², seconds, samples apart, time of the last of those, and one to spare: a cell fills a line of the cache. */
const SUMS = 8;
const APART = 5;
const LAST = 6;
type Sums = [w1: number, w2: number, wv: number, wvv: number, time: number, apart: number];
/** Samples farther from their cell's median than this many median absolute deviations are dropped. */
const OUTLIER_MADS = 4;
/** A quantised sensor may have no deviation at all: nothing within this of the median is an outlier. */
const OUTLIER_FLOOR = 0.02;
const MOSTLY = 0.5;
/** Samples of a cell that are enough to say what is usual in it. */
const USUAL_OF = 2000;
/** A sample this far beyond an end of the axes (in shares of the last interval) belongs to no cell. */
const BEYOND = 0.5;

function outside(axis: AxisFinder, v: number): boolean {
	const p = axis.points;
	const n = p.length;
	if (n < 2) return false;
	return v < p[0]! - BEYOND * (p[1]! - p[0]!) || v > p[n - 1]! + BEYOND * (p[n - 1]! - p[n - 2]!);
}

/** Index of the nearest cell per sample, −1 for samples that don't count. */
export function nearestCells(
	input: Pick<CellInput, 'axes' | 'x' | 'y' | 'value'> & Partial<Pick<CellInput, 'use'>>
): Int32Array {
	const fx = new AxisFinder(input.axes.x);
	const fy = new AxisFinder(input.axes.y);
	const { x, y, value, use } = input;
	const out = new Int32Array(value.length).fill(-1);
	for (let i = 0; i < out.length; i++) {
		const a = x[i]!;
		const b = y[i]!;
		if ((use && !use[i]) || value[i] !== value[i] || a !== a || b !== b) continue;
		if (outside(fx, a) || outside(fy, b)) continue;
		out[i] = fy.nearest(b) * fx.length + fx.nearest(a);
	}
	return out;
}

/** The samples of each of `count` cells in order of time: those of cell c are `samples` from `start[c]` to before `start[c + 1]`. */
export function samplesByCell(cell: Int32Array, count: number): { start: Int32Array; samples: Int32Array } {
	const start = new Int32Array(count + 1);
	for (let i = 0; i < cell.length; i++) if (cell[i]! >= 0) start[cell[i]! + 1]!++;
	for (let c = 0; c < count; c++) start[c + 1]! += start[c]!;
	const samples = new Int32Array(start[count]!);
	const next = start.slice();
	for (let i = 0; i < cell.length; i++) if (cell[i]! >= 0) samples[next[cell[i]!]!++] = i;
	return { start, samples };
}

/** Where every sample lies on the axes, whatever is asked of it: worked out once for many filters. */
export interface Places {
	/** Nearest cell; −1 beyond the axes or where a channel is missing. */
	nearest: Int32Array;
	/** Lower left cell of the four around it, and how far it lies towards the others, 0–1. */
	corner: Int32Array;
	tx: Float32Array;
	ty: Float32Array;
}

export function placesOf(axes: CellAxes, x: Float32Array, y: Float32Array): Places {
	const fx = new AxisFinder(axes.x);
	const fy = new AxisFinder(axes.y);
	const n = x.length;
	const out: Places = {
		nearest: new Int32Array(n).fill(-1),
		corner: new Int32Array(n),
		tx: new Float32Array(n),
		ty: new Float32Array(n)
	};
	for (let i = 0; i < n; i++) {
		const a = x[i]!;
		const b = y[i]!;
		if (a !== a || b !== b || outside(fx, a) || outside(fy, b)) continue;
		const px = fx.find(a);
		const cx = px.i;
		const tx = px.t;
		const { i: cy, t: ty } = fy.find(b);
		out.corner[i] = cy * fx.length + cx;
		out.tx[i] = tx;
		out.ty[i] = ty;
		const column = fx.length < 2 || tx < 0.5 ? cx : cx + 1;
		const row = fy.length < 2 || ty < 0.5 ? cy : cy + 1;
		out.nearest[i] = row * fx.length + column;
	}
	return out;
}

export function cellStats(input: CellInput): CellStats {
	const { axes, x, y, value, timeS, dtS, lagS, method, weight } = input;
	const nx = axes.x.length;
	const ny = axes.y.length;
	const cells = nx * ny;
	const places = input.places ?? placesOf(axes, x, y);
	const counted = samplesOf(input, places.nearest);
	const limits = input.outliers === 'kept' ? null : bounds(counted, places.nearest, value, cells, weight);
	// Sums of one cell lie side by side: a sample touches four cells, and this pass is what a reader waits for.
	const sums = new Float64Array(cells * SUMS);
	for (let c = 0; c < cells; c++) sums[c * SUMS + LAST] = -Infinity;
	const bilinear = method === 'bilinear';
	const { tx, ty, corner } = places;
	for (let k = 0; k < counted.length; k++) {
		const i = counted[k]!;
		const c = places.nearest[i]!;
		const raw = value[i]!;
		if (limits && (raw < limits.low[c]! || raw > limits.high[c]!)) continue;
		const own = weight ? weight[i]! : 1;
		const v = raw - 1;
		const s = dtS[i]!;
		const at = timeS[i]!;
		const lag = lagS[i]! - 1e-6;
		const right = tx[i]!;
		const up = ty[i]!;
		// Written out in one loop: a function for one cell, called half a million times, took twice as long.
		for (let q = 0; q < 4; q++) {
			let w = own;
			let o = c * SUMS;
			if (bilinear) {
				w *= (q & 1 ? right : 1 - right) * (q & 2 ? up : 1 - up);
				o = (corner[i]! + (q & 1) + (q & 2 ? nx : 0)) * SUMS;
			} else if (q > 0) break;
			if (w <= 0) continue;
			const wv = w * v;
			sums[o]! += w;
			sums[o + 1]! += w * w;
			sums[o + 2]! += wv;
			sums[o + 3]! += wv * v;
			sums[o + 4]! += w * s;
			if (at - sums[o + LAST]! >= lag) {
				sums[o + APART]!++;
				sums[o + LAST] = at;
			}
		}
	}
	const mean = new Float64Array(cells).fill(Number.NaN);
	const spread = new Float64Array(cells).fill(Number.NaN);
	const n = new Float64Array(cells);
	const se = new Float64Array(cells).fill(Number.NaN);
	const seconds = new Float64Array(cells);
	for (let c = 0; c < cells; c++) {
		const [w1, w2, wv, wvv, time, apart] = sums.subarray(c * SUMS, (c + 1) * SUMS) as unknown as Sums;
		seconds[c] = time;
		if (w1 === 0) continue;
		// Sums are taken about 1, where corrections lie, so that nothing cancels.
		const m = wv / w1;
		mean[c] = m + 1;
		n[c] = (w1 * w1) / w2;
		if (n[c]! > 1.001) {
			const variance = Math.max(0, wvv / w1 - m * m) * (n[c]! / (n[c]! - 1));
			spread[c] = Math.sqrt(variance);
			se[c] = Math.sqrt(variance / Math.max(1, Math.min(n[c]!, apart)));
		}
	}
	return { nx, ny, mean, spread, n, se, seconds };
}

/** Indices of the samples that count and lie on the axes, in order of time. */
function samplesOf({ use, value }: CellInput, nearest: Int32Array): Int32Array {
	const out = new Int32Array(value.length);
	let n = 0;
	for (let i = 0; i < out.length; i++) if (use[i] && nearest[i]! >= 0 && value[i] === value[i]) out[n++] = i;
	return out.subarray(0, n);
}

/**
 * Per cell the range within which values count; values are gathered by cell first, so that this stays linear. What is usual for a cell
 * is said by the samples that mostly belong to it, of many of them by every so many.
 */
function bounds(
	counted: Int32Array,
	cell: Int32Array,
	value: Float32Array,
	cells: number,
	weight: Float32Array | undefined
): { low: Float64Array; high: Float64Array } {
	const mine = weight ? counted.filter((i) => weight[i]! >= MOSTLY) : counted;
	const seen = new Int32Array(cells);
	for (let k = 0; k < mine.length; k++) seen[cell[mine[k]!]!]!++;
	const step = seen.map((n) => Math.ceil(n / USUAL_OF));
	const start = new Int32Array(cells + 1);
	for (let c = 0; c < cells; c++) start[c + 1] = start[c]! + (seen[c] ? Math.ceil(seen[c]! / step[c]!) : 0);
	const gathered = new Float64Array(start[cells]!);
	const next = start.slice();
	/** Samples of each cell until the next that is taken. */
	const wait = new Int32Array(cells);
	for (let k = 0; k < mine.length; k++) {
		const i = mine[k]!;
		const c = cell[i]!;
		if (wait[c]!-- > 0) continue;
		wait[c] = step[c]! - 1;
		gathered[next[c]!++] = value[i]!;
	}
	const low = new Float64Array(cells).fill(-Infinity);
	const high = new Float64Array(cells).fill(Infinity);
	for (let c = 0; c < cells; c++) {
		const those = gathered.subarray(start[c]!, start[c + 1]!);
		if (those.length < 5) continue;
		const m = quantileInPlace(those, 0.5);
		for (let i = 0; i < those.length; i++) those[i] = Math.abs(those[i]! - m);
		const reach = Math.max(OUTLIER_FLOOR, OUTLIER_MADS * quantileInPlace(those, 0.5));
		low[c] = m - reach;
		high[c] = m + reach;
	}
	return { low, high };
}
