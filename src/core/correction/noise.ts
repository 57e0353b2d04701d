/**
 * Scatter and memory of the readings by band of load, from residuals about a line within fine bins (half a cell wide), so that what the
 * table gets wrong isn't taken for noise.
 */
import { quantileInPlace } from '../stats/stats.ts';
import { BANDS, type Samples } from './samples.ts';

export interface Noise {
	/** Standard deviation by band, share. */
	sigma: [number, number];
	/** Integral time scale by band, seconds: samples closer than this say the same twice. */
	scaleS: [number, number];
}

/** Half a cell of the usual table: one step is 500 rpm or 20 kPa. */
const BIN_STEPS = 0.5;
/** A sensor and a model of the engine are no better than this, share. */
const FLOOR = 0.005;
const UNKNOWN = 0.015;
const UNKNOWN_S = 0.2;
const LONGEST_S = 5;
const LEAST_OF_BIN = 4;
const LEAST_OF_LINE = 6;
const LEAST = 20;
const MOST_RHO = 0.98;
/** Standard deviation over median absolute deviation of a normal distribution. */
const NORMAL = 1.4826;

/**
 * @param ux position along x in steps, per sample @param uy along y
 */
export function noiseOf(s: Samples, ux: Float32Array, uy: Float32Array): Noise {
	const bin = binsOf(s, ux, uy);
	const bins = bin.reduce((m, b) => Math.max(m, b + 1), 0);
	const n = new Float64Array(bins);
	const mz = new Float64Array(bins);
	const mx = new Float64Array(bins);
	for (let i = 0; i < s.count; i++) {
		const b = bin[i]!;
		n[b]!++;
		mz[b]! += s.z[i]!;
		mx[b]! += ux[i]!;
	}
	for (let b = 0; b < bins; b++) {
		mz[b]! /= n[b]!;
		mx[b]! /= n[b]!;
	}
	const sxx = new Float64Array(bins);
	const sxz = new Float64Array(bins);
	for (let i = 0; i < s.count; i++) {
		const b = bin[i]!;
		const dx = ux[i]! - mx[b]!;
		sxx[b]! += dx * dx;
		sxz[b]! += dx * (s.z[i]! - mz[b]!);
	}
	const residual = new Float64Array(s.count).fill(Number.NaN);
	for (let i = 0; i < s.count; i++) {
		const b = bin[i]!;
		if (n[b]! < LEAST_OF_BIN) continue;
		const slope = sxx[b]! > 0 && n[b]! >= LEAST_OF_LINE ? sxz[b]! / sxx[b]! : 0;
		const e = s.z[i]! - mz[b]! - slope * (ux[i]! - mx[b]!);
		residual[i] = e * Math.sqrt(n[b]! / Math.max(n[b]! - 2, 1));
	}
	const known = [false, false];
	const out: Noise = { sigma: [UNKNOWN, UNKNOWN], scaleS: [UNKNOWN_S, UNKNOWN_S] };
	for (const band of [0, 1] as const) {
		const sizes = new Float64Array(s.count);
		let count = 0;
		for (let i = 0; i < s.count; i++)
			if (s.band[i] === band && residual[i] === residual[i]) sizes[count++] = Math.abs(residual[i]!);
		if (count < LEAST) continue;
		known[band] = true;
		const sigma = Math.max(FLOOR, NORMAL * quantileInPlace(sizes.subarray(0, count), 0.5));
		out.sigma[band] = sigma;
		out.scaleS[band] = scaleOf(s, residual, band, sigma, perBin(n, bin, s, band));
	}
	// Under load the gas is faster: what little a pull says of its own memory isn't believed beyond that of part throttle.
	if (known[0] && known[1]) out.scaleS[1] = Math.min(out.scaleS[1], Math.max(out.scaleS[0], s.lagS[1]));
	return out;
}

/** Samples of a bin, as a sample of this band finds it. */
function perBin(n: Float64Array, bin: Int32Array, s: Samples, band: number): number {
	let sum = 0;
	let count = 0;
	for (let i = 0; i < s.count; i++)
		if (s.band[i] === band && n[bin[i]!]! >= LEAST_OF_BIN) {
			sum += n[bin[i]!]!;
			count++;
		}
	return sum / count;
}

/**
 * Time scale of an autoregressive process of first order with the correlation of neighbouring samples: dt (1 + ρ) / (1 − ρ). A line
 * through few samples takes some of their correlation with it: on average (1 + 4ρ) / n (Marriott & Pope 1954), which is given back.
 */
function scaleOf(s: Samples, residual: Float64Array, band: number, sigma: number, binSize: number): number {
	const held = (v: number) => Math.max(-4 * sigma, Math.min(4 * sigma, v));
	let pairs = 0;
	let product = 0;
	let square = 0;
	let all = 0;
	let dt = 0;
	for (let i = 0; i < s.count; i++) {
		if (s.band[i] !== band || residual[i] !== residual[i]) continue;
		const e = held(residual[i]!);
		square += e * e;
		dt += s.dtS[i]!;
		all++;
		const next = i + 1;
		if (
			next < s.count &&
			s.band[next] === band &&
			s.log[next] === s.log[i] &&
			s.index[next] === s.index[i]! + 1 &&
			residual[next] === residual[next]
		) {
			product += e * held(residual[next]!);
			pairs++;
		}
	}
	const raw = pairs > LEAST ? product / pairs / Math.max(square / all, 1e-12) : 0;
	const rho = Math.max(0, Math.min(MOST_RHO, raw + (1 + 4 * raw) / binSize));
	const floor = Math.max(s.lagS[band as 0 | 1], dt / all);
	return Math.max(floor, Math.min(LONGEST_S, ((dt / all) * (1 + rho)) / (1 - rho)));
}

/** Fine bins of each log by where its samples lie, numbered without gaps. */
function binsOf(s: Samples, ux: Float32Array, uy: Float32Array): Int32Array {
	const number = new Map<number, number>();
	const out = new Int32Array(s.count);
	for (let i = 0; i < s.count; i++) {
		const bx = Math.floor(ux[i]! / BIN_STEPS) + 500;
		const by = Math.floor(uy[i]!) + 500;
		const key = ((s.log[i]! * BANDS + s.band[i]!) * 4096 + bx) * 4096 + by;
		let b = number.get(key);
		if (b === undefined) number.set(key, (b = number.size));
		out[i] = b;
	}
	return out;
}
