/** The believed mixture of one bank against its target while the engine is loaded: what lean and rich are judged from. */
import { FLAG, NO_MIXTURE } from '../segments/kinds.ts';
import type { Prepared } from '../prepared.ts';
import { near } from './believed.ts';

/** From the onset of load, or the end of a shift, until the mixture counts as settled. */
export const ONSET_S = 0.4;

/** Lags are known no better than this: within it a moving target may belong to another sample. */
const LAG_DOUBT_S = 0.15;
/** A target that moves by more than this share within the doubt is moving. */
const MOVES = 0.02;

export interface Deviation {
	bank: number;
	/** Percent over target: loaded, mixture valid, settled; NaN elsewhere. */
	settled: Float32Array;
	/** The same for the first 0.4 s, and where the target moves so fast that the lag alone may explain it. */
	onset: Float32Array;
	/** Lambda over its absolute limit (1 = at the limit), where the absolute rule applies. */
	absolute: Float32Array;
	lambda: Float32Array;
}

/** One entry per bank that can be told apart; empty where no lambda is believed. */
export function deviations(input: Prepared): Deviation[] {
	let done = known.get(input);
	if (!done) known.set(input, (done = computed(input)));
	return done;
}

/** Lean and rich are two checks of the same deviation. */
const known = new WeakMap<Prepared, Deviation[]>();

function computed(input: Prepared): Deviation[] {
	const { believed } = input;
	return believed.banks.flatMap((lambda, b) =>
		lambda && !(believed.shared && b > 0) ? [deviationOf(input, lambda, b + 1)] : []
	);
}

function deviationOf(input: Prepared, lambda: Float32Array, bank: number): Deviation {
	const { frame, segments, profile, target, believed } = input;
	const n = frame.length;
	const nan = () => new Float32Array(n).fill(Number.NaN);
	const out: Deviation = { bank, settled: nan(), onset: nan(), absolute: nan(), lambda };
	const throttle = frame.first('tps', 'pedal');
	const lifts = near(lifted(segments.flags), FLAG.loaded, frame.timeS, believed.lagS);
	let onsetS = -Infinity;
	/** First and last sample within the doubt of the lag. */
	let a = 0;
	let b = 0;
	for (let i = 0; i < n; i++) {
		const f = segments.flags[i]!;
		const loaded = (f & FLAG.loaded) !== 0;
		const before = i > 0 ? segments.flags[i - 1]! : 0;
		if ((loaded && !(before & FLAG.loaded)) || (before & FLAG.shift && !(f & FLAG.shift)))
			onsetS = frame.timeS[i]!;
		const l = lambda[i]!;
		if (!loaded || f & NO_MIXTURE || l !== l) continue;
		const boosted = (f & FLAG.boosted) !== 0;
		const wide = throttle !== null && throttle[i]! >= profile.loadedThrottlePct;
		let goal = target.values ? target.values[i]! : Number.NaN;
		const known = goal === goal;
		if (!known && wide) goal = boosted ? profile.targetBoosted : profile.targetLoaded;
		while (frame.timeS[i]! - frame.timeS[a]! > LAG_DOUBT_S + SLACK_S) a++;
		if (b < i) b = i;
		while (b + 1 < n && frame.timeS[b + 1]! - frame.timeS[i]! <= LAG_DOUBT_S + SLACK_S) b++;
		const off = 100 * (l / goal - 1);
		const least =
			known && Math.abs(off) > profile.leanWatchPct ? leastOff(lambda, target.values!, i, a, b) : off;
		const late = Math.abs(off) > profile.leanFixPct && Math.abs(least) < profile.leanFixPct;
		const settled = frame.timeS[i]! - onsetS >= ONSET_S - 1e-6 && !lifts[i] && !late;
		if (goal === goal) (settled ? out.settled : out.onset)[i] = off;
		const ceiling = boosted ? profile.lambdaLeanBoosted : wide ? profile.lambdaLeanLoaded : Number.NaN;
		if (settled && (!known || least > profile.leanWatchPct)) out.absolute[i] = l / ceiling;
	}
	return out;
}

const SLACK_S = 1e-6;

/**
 * The deviation at `i`, in percent, that no lag in doubt explains: as it stands where the target keeps still between samples `from`
 * and `to` (all within that doubt); where it moves, the smallest size that one of their readings gives.
 */
function leastOff(lambda: Float32Array, target: Float32Array, i: number, from: number, to: number): number {
	let low = Infinity;
	let high = -Infinity;
	let least = Infinity;
	for (let k = from; k <= to; k++) {
		const goal = target[k]!;
		if (goal < low) low = goal;
		if (goal > high) high = goal;
		const off = Math.abs(lambda[k]! / target[i]! - 1);
		if (off < least) least = off;
	}
	return high > low * (1 + MOVES) ? 100 * least : 100 * (lambda[i]! / target[i]! - 1);
}

/** Marks the sample after every loaded stretch: past it the sensor sees the mixture of the lift. */
function lifted(flags: Uint32Array): Uint32Array {
	const out = new Uint32Array(flags.length);
	for (let i = 0; i + 1 < flags.length; i++)
		if (flags[i]! & FLAG.loaded && !(flags[i + 1]! & FLAG.loaded)) out[i + 1] = FLAG.loaded;
	return out;
}
