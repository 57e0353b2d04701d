/** Small statistics over typed arrays. NaN marks a missing sample and is skipped throughout. */

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
 * Sorts a copy.
 */
export function quantile(values: Numbers, q: number): number {
	const sorted = finite(values).sort();
	return quantileSorted(sorted, q);
}

/** As `quantile`, for values already ascending and finite. */
export function quantileSorted(sorted: Numbers, q: number): number {
	const n = sorted.length;
	if (n === 0) return Number.NaN;
	const at = (n - 1) * q;
	const low = Math.floor(at);
	const a = sorted[low]!;
	const b = sorted[Math.min(n - 1, low + 1)]!;
	return a + (b - a) * (at - low);
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
 */
export function runningMedian(values: Float32Array, width: number): Float32Array {
	const half = Math.max(0, Math.floor(width / 2));
	if (half === 0) return values;
	const out = new Float32Array(values.length);
	const window = new Float64Array(2 * half + 1);
	for (let i = 0; i < values.length; i++) {
		if (values[i] !== values[i]) {
			out[i] = Number.NaN;
			continue;
		}
		let n = 0;
		const from = Math.max(0, i - half);
		const to = Math.min(values.length - 1, i + half);
		for (let j = from; j <= to; j++) {
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
		out[i] = n === 0 ? Number.NaN : n % 2 ? window[n >> 1]! : (window[(n >> 1) - 1]! + window[n >> 1]!) / 2;
	}
	return out;
}
