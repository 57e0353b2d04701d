/** Small statistics over typed arrays. NaN marks a missing sample and is skipped throughout. */
import { ascending as d3ascending, quantileSorted as interpolated, quickselect } from 'd3-array';
import type { Run } from './runs.ts';

export type Numbers = Float32Array | Float64Array | readonly number[];

/** Copies the finite values. */
export function finite(values: Numbers): Float64Array {
	const out = new Float64Array(values.length);
	let n = 0;
	for (let i = 0; i < values.length; i++) {
		const v = values[i]!;
		if (Number.isFinite(v)) out[n++] = v;
	}
	return out.subarray(0, n);
}

/**
 * The q-quantile (0–1) by linear interpolation between order statistics (Hyndman & Fan type 7); NaN when empty.
 * Works on a copy, by selection: sorting all of a log for one of its values takes ten times as long.
 */
export function quantile(values: Numbers, q: number): number {
	return quantileInPlace(finite(values), q);
}

/** As `quantile`, for finite values that may be put in another order. */
export function quantileInPlace(v: Float64Array, q: number): number {
	const n = v.length;
	if (n === 0) return Number.NaN;
	const at = (n - 1) * q;
	const low = Math.floor(at);
	const a = selected(v, low);
	if (at === low) return a;
	// Everything after the selected place is at least as large: the next order statistic is its smallest.
	let b = Infinity;
	for (let i = low + 1; i < n; i++) if (v[i]! < b) b = v[i]!;
	return a + (b - a) * (at - low);
}

/** Puts the k-th smallest value (from 0) at place k, smaller ones before it, larger ones after it. */
function selected(v: Float64Array, k: number): number {
	quickselect(v as unknown as number[], k, 0, v.length - 1, ascending as typeof d3ascending);
	return v[k]!;
}

/** The package's own comparison also orders what is no number; here all are. */
const ascending = (a: number, b: number): number => (a < b ? -1 : a > b ? 1 : 0);

/** As `quantile`, for values already ascending and finite. */
export function quantileSorted(sorted: Numbers, q: number): number {
	return interpolated(sorted as number[], q) ?? Number.NaN;
}

export function median(values: Numbers): number {
	return quantile(values, 0.5);
}

/** Median absolute deviation from the median, unscaled. */
export function mad(values: Numbers): number {
	const clean = finite(values);
	const m = median(clean);
	return median(clean.map((v) => Math.abs(v - m)));
}

export interface Extremes {
	min: number;
	max: number;
	/** Share of samples that are missing, 0–1. */
	missing: number;
}

export function extremes(values: Numbers): Extremes {
	// Columns of logs are Float32: kept apart, the loop over them sees one kind of array and runs several times as fast.
	return values instanceof Float32Array ? extremes32(values) : extremesAny(values);
}

function extremes32(values: Float32Array): Extremes {
	let min = Infinity;
	let max = -Infinity;
	let missing = 0;
	for (let i = 0; i < values.length; i++) {
		const v = values[i]!;
		if (v < min) min = v;
		if (v > max) max = v;
		if (v !== v) missing++;
	}
	return bounded(min, max, missing, values.length);
}

function extremesAny(values: Numbers): Extremes {
	let min = Infinity;
	let max = -Infinity;
	let missing = 0;
	for (const v of values) {
		if (v < min) min = v;
		if (v > max) max = v;
		if (v !== v) missing++;
	}
	return bounded(min, max, missing, values.length);
}

function bounded(min: number, max: number, missing: number, length: number): Extremes {
	if (missing === length) return { min: Number.NaN, max: Number.NaN, missing: 1 };
	return { min, max, missing: missing / length };
}

/** At most `count` values spread evenly over the array: enough for a quantile of a long log. */
export function thinned(values: Numbers, count: number): Float64Array {
	const clean = Math.min(count, values.length);
	const out = new Float64Array(clean);
	for (let i = 0; i < clean; i++) out[i] = values[Math.floor((i * values.length) / clean)]!;
	return finite(out);
}

/**
 * Theil–Sen slope: the median of the slopes between all pairs of points. For up to `maxPoints` points exactly,
 * beyond that over an evenly thinned subset (the number of pairs is quadratic).
 * @returns NaN with fewer than two points
 */
export function theilSen(x: Numbers, y: Numbers, maxPoints = 200): number {
	const n = x.length;
	const step = Math.max(1, n / maxPoints);
	const xs: number[] = [];
	const ys: number[] = [];
	for (let i = 0; i < n; i += step) {
		const j = Math.floor(i);
		if (Number.isFinite(x[j]!) && Number.isFinite(y[j]!)) {
			xs.push(x[j]!);
			ys.push(y[j]!);
		}
	}
	const slopes: number[] = [];
	for (let i = 0; i < xs.length; i++) {
		for (let j = i + 1; j < xs.length; j++) {
			const dx = xs[j]! - xs[i]!;
			if (dx !== 0) slopes.push((ys[j]! - ys[i]!) / dx);
		}
	}
	return median(slopes);
}

/**
 * Running median over an odd number of samples; windows are cut at the ends. NaN neighbours are skipped, a NaN sample stays one:
 * smoothing doesn't fill holes.
 * @param within runs outside of which `values` holds nothing
 */
export function runningMedian(values: Float32Array, width: number, within?: readonly Run[]): Float32Array {
	const half = Math.max(0, Math.floor(width / 2));
	if (half === 0) return values;
	const out = new Float32Array(values.length).fill(Number.NaN);
	const window = new Float64Array(2 * half + 1);
	const last = values.length - 1;
	for (const run of within ?? [{ from: 0, to: last }])
		for (let i = run.from; i <= run.to; i++) {
			const v = values[i]!;
			if (v !== v) continue;
			if (half === 1 && i > 0 && i < last) {
				const a = values[i - 1]!;
				const b = values[i + 1]!;
				if (a === a && b === b) {
					out[i] = middleOfThree(a, v, b);
					continue;
				}
			}
			out[i] = medianAround(values, i, half, window);
		}
	return out;
}

function middleOfThree(a: number, b: number, c: number): number {
	if (a > b) return b > c ? b : a > c ? c : a;
	return a > c ? a : b > c ? c : b;
}

/** Median of what is there within `half` samples of `i`, where something is. */
function medianAround(values: Float32Array, i: number, half: number, window: Float64Array): number {
	let n = 0;
	const to = Math.min(values.length - 1, i + half);
	for (let j = Math.max(0, i - half); j <= to; j++) {
		const v = values[j]!;
		if (v !== v) continue;
		// Insertion sort: the window is a handful of samples.
		let k = n++;
		while (k > 0 && window[k - 1]! > v) {
			window[k] = window[k - 1]!;
			k--;
		}
		window[k] = v;
	}
	return n % 2 ? window[n >> 1]! : (window[(n >> 1) - 1]! + window[n >> 1]!) / 2;
}

/** Pearson's correlation, −1…1; NaN where one side doesn't vary. */
function correlation(x: Numbers, y: Numbers): number {
	let mx = 0;
	let my = 0;
	let sxx = 0;
	let syy = 0;
	let sxy = 0;
	// One pass about running means (Welford): sums of squares of large numbers would cancel.
	for (let i = 0; i < x.length; i++) {
		const da = x[i]! - mx;
		const db = y[i]! - my;
		mx += da / (i + 1);
		my += db / (i + 1);
		sxx += da * (x[i]! - mx);
		syy += db * (y[i]! - my);
		sxy += da * (y[i]! - my);
	}
	return sxx > 0 && syy > 0 ? sxy / Math.sqrt(sxx * syy) : Number.NaN;
}

/**
 * Pearson's correlation of two columns, and the slope of y over x by least squares; NaN where one side doesn't vary.
 * @example line([0, 1, 2], [1, 3, 5]) // { r: 1, slope: 2 }
 */
export function line(x: Numbers, y: Numbers): { r: number; slope: number } {
	const r = correlation(x, y);
	return { r, slope: (r * spread(y)) / spread(x) };
}

/** Standard deviation with n below, of finite values. */
function spread(v: Numbers): number {
	let [sum, squares] = [0, 0];
	for (let i = 0; i < v.length; i++) sum += v[i]!;
	const mean = sum / v.length;
	for (let i = 0; i < v.length; i++) squares += (v[i]! - mean) ** 2;
	return Math.sqrt(squares / v.length);
}

/** Spearman's rank correlation: of the ranks, ties at their mean rank. Pairs with a missing value are skipped. */
export function spearman(x: Numbers, y: Numbers): number {
	const xs: number[] = [];
	const ys: number[] = [];
	for (let i = 0; i < Math.min(x.length, y.length); i++)
		if (x[i] === x[i] && y[i] === y[i]) {
			xs.push(x[i]!);
			ys.push(y[i]!);
		}
	return correlation(ranks(xs), ranks(ys));
}

function ranks(values: readonly number[]): Float64Array {
	const order = values.map((_, i) => i).sort((a, b) => values[a]! - values[b]!);
	const out = new Float64Array(values.length);
	for (let from = 0; from < order.length;) {
		let to = from;
		while (to + 1 < order.length && values[order[to + 1]!] === values[order[from]!]) to++;
		for (let k = from; k <= to; k++) out[order[k]!] = (from + to) / 2 + 1;
		from = to + 1;
	}
	return out;
}

/** Standard normal quantile at 0.9. */
const Z90 = 1.2815515655446004;

/**
 * What Student's t stays below in nine of ten, by its expansion around the normal one (Abramowitz and Stegun, 26.7.5).
 * @param df degrees of freedom, at least 3: within 0.01 of the tables there, closer from 4 on
 */
export function tQuantile90(df: number): number {
	const z = Z90;
	const z2 = z * z;
	return (
		z *
		(1 +
			(z2 + 1) / (4 * df) +
			((5 * z2 + 16) * z2 + 3) / (96 * df ** 2) +
			(((3 * z2 + 19) * z2 + 17) * z2 - 15) / (384 * df ** 3) +
			((((79 * z2 + 776) * z2 + 1482) * z2 - 1920) * z2 - 945) / (92160 * df ** 4))
	);
}
