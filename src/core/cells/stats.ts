/**
 * Samples gathered into the cells of a grid: weighted mean, scatter, how much data stands behind it.
 * Bilinear weights use every sample without favouring cell edges; nearest takes each sample once.
 */
import { quantileInPlace } from '../stats/stats.ts';
import { AxisFinder, type CellAxes } from './grid.ts';

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

/** Samples farther from their cell's median than this many median absolute deviations are dropped. */
const OUTLIER_MADS = 4;
/** A quantised sensor may have no deviation at all: nothing within this of the median is an outlier. */
const OUTLIER_FLOOR = 0.02;
const MOSTLY = 0.5;
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
	input: Omit<CellInput, 'method' | 'timeS' | 'dtS' | 'lagS' | 'outliers' | 'weight' | 'places'>
): Int32Array {
	const fx = new AxisFinder(input.axes.x);
	const fy = new AxisFinder(input.axes.y);
	const { x, y, value, use } = input;
	const out = new Int32Array(value.length).fill(-1);
	for (let i = 0; i < out.length; i++) {
		if (!use[i] || value[i] !== value[i] || x[i] !== x[i] || y[i] !== y[i]) continue;
		if (outside(fx, x[i]!) || outside(fy, y[i]!)) continue;
		out[i] = fy.nearest(y[i]!) * fx.length + fx.nearest(x[i]!);
	}
	return out;
}

/** Where every sample lies on the axes, whatever is asked of it: worked out once for many filters. */
export interface Places {
	/** Nearest cell; −1 beyond the axes or where a channel is missing. */
	nearest: Int32Array;
	/** Lower left cell of the four around it, and how far it lies towards the others, 0–1. */
	corner: Int32Array;
	tx: Float64Array;
	ty: Float64Array;
}

export function placesOf(axes: CellAxes, x: Float32Array, y: Float32Array): Places {
	const fx = new AxisFinder(axes.x);
	const fy = new AxisFinder(axes.y);
	const n = x.length;
	const out: Places = {
		nearest: new Int32Array(n).fill(-1),
		corner: new Int32Array(n),
		tx: new Float64Array(n),
		ty: new Float64Array(n)
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
	const { corner } = places;
	const nearest = new Int32Array(value.length).fill(-1);
	for (let i = 0; i < nearest.length; i++)
		if (input.use[i] && value[i] === value[i]) nearest[i] = places.nearest[i]!;
	// What counts as usual for a cell is said by the samples that mostly belong to it.
	const mostly = weight ? nearest.map((c, i) => (weight[i]! >= MOSTLY ? c : -1)) : nearest;
	const limits = input.outliers === 'kept' ? null : bounds(mostly, value, cells);
	const w1 = new Float64Array(cells);
	const w2 = new Float64Array(cells);
	const wv = new Float64Array(cells);
	const wvv = new Float64Array(cells);
	const seconds = new Float64Array(cells);
	const apart = new Float64Array(cells);
	const last = new Float64Array(cells).fill(-Infinity);
	const put = (c: number, w: number, i: number) => {
		if (w <= 0) return;
		const v = value[i]! - 1;
		w1[c]! += w;
		w2[c]! += w * w;
		wv[c]! += w * v;
		wvv[c]! += w * v * v;
		seconds[c]! += w * dtS[i]!;
		if (timeS[i]! - last[c]! >= lagS[i]! - 1e-6) {
			apart[c]!++;
			last[c] = timeS[i]!;
		}
	};
	for (let i = 0; i < nearest.length; i++) {
		const c = nearest[i]!;
		if (c < 0 || (limits && (value[i]! < limits.low[c]! || value[i]! > limits.high[c]!))) continue;
		const own = weight ? weight[i]! : 1;
		if (method === 'nearest') {
			put(c, own, i);
			continue;
		}
		const tx = places.tx[i]!;
		const ty = places.ty[i]!;
		const at = corner[i]!;
		put(at, own * (1 - tx) * (1 - ty), i);
		if (tx > 0) put(at + 1, own * tx * (1 - ty), i);
		if (ty > 0) put(at + nx, own * (1 - tx) * ty, i);
		if (tx > 0 && ty > 0) put(at + nx + 1, own * tx * ty, i);
	}
	const mean = new Float64Array(cells).fill(Number.NaN);
	const spread = new Float64Array(cells).fill(Number.NaN);
	const n = new Float64Array(cells);
	const se = new Float64Array(cells).fill(Number.NaN);
	for (let c = 0; c < cells; c++) {
		if (w1[c] === 0) continue;
		// Sums are taken about 1, where corrections lie, so that nothing cancels.
		const m = wv[c]! / w1[c]!;
		mean[c] = m + 1;
		n[c] = (w1[c]! * w1[c]!) / w2[c]!;
		if (n[c]! > 1.001) {
			const variance = Math.max(0, wvv[c]! / w1[c]! - m * m) * (n[c]! / (n[c]! - 1));
			spread[c] = Math.sqrt(variance);
			se[c] = Math.sqrt(variance / Math.max(1, Math.min(n[c]!, apart[c]!)));
		}
	}
	return { nx, ny, mean, spread, n, se, seconds };
}

/** Per cell the range within which values count; values are gathered by cell first, so that this stays linear. */
function bounds(
	cell: Int32Array,
	value: Float32Array,
	cells: number
): { low: Float64Array; high: Float64Array } {
	const start = new Int32Array(cells + 1);
	for (let i = 0; i < cell.length; i++) if (cell[i]! >= 0) start[cell[i]! + 1]!++;
	for (let c = 0; c < cells; c++) start[c + 1]! += start[c]!;
	const gathered = new Float64Array(start[cells]!);
	const next = start.slice();
	for (let i = 0; i < cell.length; i++) if (cell[i]! >= 0) gathered[next[cell[i]!]!++] = value[i]!;
	const low = new Float64Array(cells).fill(-Infinity);
	const high = new Float64Array(cells).fill(Infinity);
	for (let c = 0; c < cells; c++) {
		const mine = gathered.subarray(start[c]!, start[c + 1]!);
		if (mine.length < 5) continue;
		const m = quantileInPlace(mine, 0.5);
		for (let i = 0; i < mine.length; i++) mine[i] = Math.abs(mine[i]! - m);
		const reach = Math.max(OUTLIER_FLOOR, OUTLIER_MADS * quantileInPlace(mine, 0.5));
		low[c] = m - reach;
		high[c] = m + reach;
	}
	return { low, high };
}
