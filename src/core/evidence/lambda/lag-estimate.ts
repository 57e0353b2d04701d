/**
 * The lag of one lambda source in one log: how much later than the fuel it answers. Where the target moves, by what it answers to that; else
 * by cross-correlation with fuel cuts and what steps there are: the default curve gives the shape over the gas flow, the log the factor on it.
 *
 * Steps come from the target (channel or table) and from fuel cuts, which are the largest step there is. The source, moved back by
 * the curve times a factor, is correlated with the steps; the factor with the highest correlation is taken where it is clear.
 */
import type { Frame } from '../../logfile/frame.ts';
import { defaultLagS } from './lag.ts';
import { lagByTarget } from './lag-by-target.ts';

export interface LagEstimate {
	/** Factor on the default curve; 1 where the log can't tell. */
	factor: number;
	/** Seconds at every flow, where that fits better than the curve. */
	constantS: number | null;
	/** Correlation at that factor, −1…1; NaN without enough steps. */
	quality: number;
	/** Steps that were looked at. */
	steps: number;
	/** Lag in seconds at the median flow of those steps, as used. */
	typicalS: number;
	from: 'log' | 'default';
}

/** A change of the expected mixture of this share within 0.2 s is a step. */
const STEP_SHARE = 0.025;
const STEP_WITHIN_S = 0.2;
/** Steps this close belong together. */
const APART_S = 0.8;
const BEFORE_S = 0.4;
const AFTER_S = 1.2;
const FEWEST_STEPS = 4;
/** A long log has enough of them. */
const MOST_STEPS = 160;
/** Below this correlation nothing is clear. */
const CLEAR = 0.7;
/** The best factor has to beat the worst of the range by this much: a flat top points nowhere. */
const STANDS_OUT = 0.05;
const LOWEST_FACTOR = 0.3;
const HIGHEST_FACTOR = 3;
const FACTOR_STEP = 0.1;
/** A lean end for the fuel cut: far from any target, near enough that one cut doesn't outweigh all other steps. */
const CUT_LAMBDA = 1.25;

type Axis = Pick<Frame, 'timeS' | 'length' | 'stepS'>;

/** Steps of the mixture that every source of a log should show. */
export interface MixtureSteps {
	/** Logarithm of the expected lambda per sample. */
	expected: Float32Array;
	/** Samples in the middle of a step. */
	centres: number[];
	/** Share of full exhaust flow per sample, 0–1. */
	flow: Float32Array;
	goal: Float32Array | null;
	cut: Uint8Array;
}

/** Lag of a source at a flow, seconds. */
export const lagSAt = (lag: LagEstimate, flow: number): number =>
	lag.constantS ?? lag.factor * defaultLagS(flow);

/**
 * @param goal expected lambda per sample; NaN where unknown
 * @param cut 1 where no fuel is injected
 * @param flow share of full exhaust flow, 0–1
 */
export function mixtureSteps(
	frame: Axis,
	goal: Float32Array | null,
	cut: Uint8Array,
	flow: Float32Array
): MixtureSteps {
	const expected = expectedOf(goal, cut, frame.length);
	return { expected, centres: stepsIn(expected, frame), flow, goal, cut };
}

/** @param lambda the source as logged */
export function estimateLag(frame: Axis, lambda: Float32Array, steps: MixtureSteps): LagEstimate {
	const { expected, centres, flow, goal, cut } = steps;
	const typical = flowAt(centres, flow);
	const moving = goal ? lagByTarget(frame, lambda, goal, cut, flow) : null;
	if (moving) {
		const [factor, constantS] = moving.shape === 'curve' ? [moving.value, null] : [1, moving.value];
		const lag = {
			factor,
			constantS,
			quality: 1 - moving.scatter,
			steps: moving.movements,
			from: 'log' as const
		};
		return { ...lag, typicalS: lagSAt({ ...lag, typicalS: 0 }, typical) };
	}
	const none: LagEstimate = {
		factor: 1,
		constantS: null,
		quality: Number.NaN,
		steps: centres.length,
		typicalS: defaultLagS(typical),
		from: 'default'
	};
	if (centres.length < FEWEST_STEPS) return none;
	const candidates: number[] = [];
	for (let f = LOWEST_FACTOR; f <= HIGHEST_FACTOR + 1e-9; f += FACTOR_STEP) candidates.push(f);
	const scores = new Array<number>(candidates.length).fill(Number.NaN);
	let best = 0;
	const score = (i: number) => {
		if (candidates[i] === undefined || scores[i] === scores[i]) return;
		scores[i] = correlation(frame, lambda, expected, centres, flow, candidates[i]!);
		if (!(scores[i]! <= scores[best]!)) best = i;
	};
	// Every third first, then what lies around the best of them: correlation rises and falls over half a second, not over one step.
	for (let i = 0; i < candidates.length; i += 3) score(i);
	score(candidates.length - 1);
	const around = best;
	for (let by = -3; by <= 3; by++) score(around + by);
	const quality = scores[best]!;
	const lowest = Math.min(...scores.filter((r) => r === r));
	const atEnd = best === 0 || best === scores.length - 1;
	// A short lag at a slow log may well lie at the lower end; a best fit at the upper end is no fit.
	if (!(quality >= CLEAR) || !(quality - lowest >= STANDS_OUT) || (atEnd && best > 0))
		return { ...none, quality };
	const factor = candidates[best]! + FACTOR_STEP * vertex(scores, best);
	return {
		factor,
		constantS: null,
		quality,
		steps: centres.length,
		typicalS: factor * defaultLagS(typical),
		from: 'log'
	};
}

function expectedOf(goal: Float32Array | null, cut: Uint8Array, n: number): Float32Array {
	const out = new Float32Array(n);
	for (let i = 0; i < n; i++) out[i] = Math.log(cut[i] ? CUT_LAMBDA : goal ? goal[i]! : 1);
	return out;
}

/** Samples in the middle of a step of the expected mixture. */
function stepsIn(expected: Float32Array, frame: Pick<Frame, 'timeS' | 'length'>): number[] {
	const out: number[] = [];
	const t = frame.timeS;
	let k = 0;
	let last = -Infinity;
	for (let i = 1; i < frame.length && out.length < MOST_STEPS; i++) {
		while (k + 1 < i && t[i]! - t[k]! > STEP_WITHIN_S) k++;
		const by = Math.abs(expected[i]! - expected[k]!);
		if (!(by >= STEP_SHARE) || t[i]! - last < APART_S) continue;
		last = t[i]!;
		out.push(i);
	}
	return out;
}

function flowAt(centres: readonly number[], flow: Float32Array): number {
	const sorted = centres.map((i) => flow[i]!).sort((a, b) => a - b);
	return sorted[sorted.length >> 1] ?? 0.3;
}

/** Pearson's correlation of expectation and the moved source around all steps, each step about its own means. */
function correlation(
	frame: Axis,
	lambda: Float32Array,
	expected: Float32Array,
	centres: readonly number[],
	flow: Float32Array,
	factor: number
): number {
	const t = frame.timeS;
	let cov = 0;
	let varU = 0;
	let varY = 0;
	for (const c of centres) {
		let from = c;
		while (from > 0 && t[c]! - t[from - 1]! <= BEFORE_S) from--;
		let n = 0;
		let su = 0;
		let sy = 0;
		let suu = 0;
		let syy = 0;
		let suy = 0;
		let k = from;
		for (let i = from; i < frame.length && t[i]! - t[c]! <= AFTER_S; i++) {
			const at = t[i]! + factor * defaultLagS(flow[i]!);
			while (k + 1 < frame.length && t[k + 1]! <= at) k++;
			while (k > 0 && t[k]! > at) k--;
			if (k + 1 >= frame.length) break;
			// Between samples: the estimate should be finer than the log's rate.
			const share = Math.min(1, (at - t[k]!) / (t[k + 1]! - t[k]!));
			const raw = lambda[k]! + (lambda[k + 1]! - lambda[k]!) * share;
			const u = expected[i]!;
			if (!(raw > 0) || u !== u) continue;
			const y = Math.log(Math.min(raw, CUT_LAMBDA));
			n++;
			su += u;
			sy += y;
			suu += u * u;
			syy += y * y;
			suy += u * y;
		}
		if (n < 4) continue;
		cov += suy - (su * sy) / n;
		varU += suu - (su * su) / n;
		varY += syy - (sy * sy) / n;
	}
	return cov / Math.sqrt(varU * varY);
}

/** Where the parabola through a maximum and its neighbours has its top, in steps from the maximum (−0.5…0.5). */
function vertex(scores: readonly number[], best: number): number {
	const a = scores[best - 1];
	const c = scores[best + 1];
	const b = scores[best]!;
	if (a === undefined || c === undefined || a !== a || c !== c) return 0;
	const bend = a - 2 * b + c;
	return bend < 0 ? Math.max(-0.5, Math.min(0.5, (a - c) / (2 * bend))) : 0;
}
