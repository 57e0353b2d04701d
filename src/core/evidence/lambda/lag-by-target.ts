/**
 * The lag of a lambda source by what it answers: while the target moves, the source divided by the target scatters least at the lag that
 * it has. Two shapes are tried: the default curve over the gas flow times a factor, and one figure at every flow (a filter, or a sensor close
 * to the engine). Fuel cuts stay out: a sensor crosses a mixture on its way to pure air sooner than its lag.
 */
import type { Frame } from '../../logfile/frame.ts';
import { defaultLagS } from './lag.ts';

export interface LagByTarget {
	/** Factor on the default curve, or seconds at every flow. */
	shape: 'curve' | 'constant';
	value: number;
	/** Scatter of ln(source / target) left while the target moves, and how many stretches of movement there were. */
	scatter: number;
	movements: number;
}

/** The target moves where it changes by this share within 0.4 s of a sample. */
const MOVES = 0.02;
const WITHIN_S = 0.4;
const APART_S = 0.8;
const FEWEST_MOVEMENTS = 4;
const FEWEST_SAMPLES = 40;
const MOST_SAMPLES = 6000;
/** Unburnt air is seen for this long after a cut. */
const AFTER_CUT_S = 1;
const SHORTEST_S = 0.02;
const LONGEST_S = 0.6;
const STEP_S = 0.01;
const FACTORS = Array.from({ length: 28 }, (_, k) => 0.3 + 0.1 * k);
/** The best has to leave this much less scatter than the ends of the range: a flat valley points nowhere. */
const STANDS_OUT = 0.75;
/** One figure at every flow has to be this much better than the curve, which gas on its way follows. */
const SIMPLER = 0.95;

/** @param cut 1 where no fuel is injected @param flow share of full exhaust flow, 0–1 @returns `null` where the log can't tell */
export function lagByTarget(
	frame: Pick<Frame, 'timeS' | 'length'>,
	lambda: Float32Array,
	goal: Float32Array,
	cut: Uint8Array,
	flow: Float32Array
): LagByTarget | null {
	const { samples, movements } = movingSamples(frame, goal, cut);
	if (movements < FEWEST_MOVEMENTS || samples.length < FEWEST_SAMPLES) return null;
	const every = Math.ceil(samples.length / MOST_SAMPLES);
	const used = Int32Array.from(samples.filter((_, k) => k % every === 0));
	const usual = Float64Array.from(used, (i) => defaultLagS(flow[i]!));
	const seconds: number[] = [];
	for (let s = SHORTEST_S; s <= LONGEST_S + 1e-9; s += STEP_S) seconds.push(s);
	const constant = least(seconds, (s) => scatterLeft(frame, lambda, goal, used, usual, s, 0));
	const curve = least(FACTORS, (f) => scatterLeft(frame, lambda, goal, used, usual, 0, f));
	const better = constant && (!curve || constant.scatter < SIMPLER * curve.scatter) ? constant : curve;
	if (!better) return null;
	return {
		shape: better === constant ? 'constant' : 'curve',
		value: better.value,
		scatter: better.scatter,
		movements
	};
}

/** The candidate that leaves least, where it stands out; `null` where it doesn't, or lies at the upper end. */
function least(
	candidates: readonly number[],
	of: (c: number) => number
): { value: number; scatter: number } | null {
	const scores = candidates.map(of);
	let best = -1;
	scores.forEach((s, k) => {
		if (Number.isFinite(s) && (best < 0 || s < scores[best]!)) best = k;
	});
	if (best < 0 || best === candidates.length - 1) return null;
	const ends = [scores[0]!, scores.at(-1)!].filter(Number.isFinite);
	// At the lower end only the upper one can tell.
	const stands = best === 0 ? scores.at(-1)! : Math.max(...ends);
	if (!(scores[best]! < STANDS_OUT * stands)) return null;
	const [a, b, c] = [scores[best - 1], scores[best]!, scores[best + 1]];
	const bend = a === undefined || c === undefined ? 0 : a - 2 * b + c;
	const by = bend > 0 ? Math.max(-0.5, Math.min(0.5, (a! - c!) / (2 * bend))) : 0;
	return { value: candidates[best]! + by * (candidates[1]! - candidates[0]!), scatter: b };
}

function movingSamples(
	{ timeS: t, length: n }: Pick<Frame, 'timeS' | 'length'>,
	goal: Float32Array,
	cut: Uint8Array
): { samples: number[]; movements: number } {
	const samples: number[] = [];
	let movements = 0;
	let last = -Infinity;
	let cutUntil = -Infinity;
	let nextCut = 0;
	let [from, to] = [0, 0];
	for (let i = 0; i < n; i++) {
		if (cut[i]) cutUntil = t[i]! + AFTER_CUT_S;
		while (nextCut < n && (nextCut < i || !cut[nextCut])) nextCut++;
		while (t[i]! - t[from]! > WITHIN_S) from++;
		while (to + 1 < n && t[to + 1]! - t[i]! <= WITHIN_S) to++;
		if (t[i]! < cutUntil || (nextCut < n && t[nextCut]! - t[i]! < LONGEST_S)) continue;
		let low = Infinity;
		let high = -Infinity;
		for (let k = from; k <= to; k++) {
			const g = goal[k]!;
			if (g < low) low = g;
			if (g > high) high = g;
		}
		if (!(low > 0) || !(high / low >= 1 + MOVES)) continue;
		samples.push(i);
		if (t[i]! - last > APART_S) movements++;
		last = t[i]!;
	}
	return { samples, movements };
}

/**
 * Standard deviation of ln(source / target) over the samples, the source read later by `constantS + factor · usual`. A plain loop over arrays:
 * it is gone through for some ninety candidates.
 * @param usual the default lag of each of the samples, s
 */
function scatterLeft(
	{ timeS: t, length: n }: Pick<Frame, 'timeS' | 'length'>,
	lambda: Float32Array,
	goal: Float32Array,
	samples: Int32Array,
	usual: Float64Array,
	constantS: number,
	factor: number
): number {
	let count = 0;
	let sum = 0;
	let squares = 0;
	for (let s = 0; s < samples.length; s++) {
		const i = samples[s]!;
		const at = t[i]! + (constantS + factor * usual[s]!);
		let k = i;
		while (k + 1 < n && t[k + 1]! <= at) k++;
		if (k + 1 >= n) continue;
		const share = (at - t[k]!) / (t[k + 1]! - t[k]!);
		const seen = lambda[k]! + (lambda[k + 1]! - lambda[k]!) * share;
		const r = Math.log(seen / goal[i]!);
		if (!Number.isFinite(r)) continue;
		count++;
		sum += r;
		squares += r * r;
	}
	return count < FEWEST_SAMPLES ? Number.NaN : Math.sqrt(Math.max(0, squares / count - (sum / count) ** 2));
}
