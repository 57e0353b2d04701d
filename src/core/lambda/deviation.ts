/** The believed mixture of one bank against its target while the engine is loaded: what lean and rich are judged from. */
import type { CheckInput } from '../screening/types.ts';
import { FLAG, NO_MIXTURE } from '../segments/segments.ts';
import { near } from './believed.ts';

/** From the onset of load, or the end of a shift, until the mixture counts as settled. */
export const ONSET_S = 0.4;

export interface Deviation {
	bank: number;
	/** Percent over target: loaded, mixture valid, settled; NaN elsewhere. */
	settled: Float32Array;
	/** The same for the first 0.4 s. */
	onset: Float32Array;
	/** Lambda over its absolute limit (1 = at the limit), where the absolute rule applies. */
	absolute: Float32Array;
	lambda: Float32Array;
}

/** One entry per bank that can be told apart; empty where no lambda is believed. */
export function deviations(input: CheckInput): Deviation[] {
	let done = known.get(input);
	if (!done) known.set(input, (done = computed(input)));
	return done;
}

/** Lean and rich are two checks of the same deviation. */
const known = new WeakMap<CheckInput, Deviation[]>();

function computed(input: CheckInput): Deviation[] {
	const { believed } = input;
	return believed.banks.flatMap((lambda, b) =>
		lambda && !(believed.shared && b > 0) ? [deviationOf(input, lambda, b + 1)] : []
	);
}

function deviationOf(input: CheckInput, lambda: Float32Array, bank: number): Deviation {
	const { frame, segments, profile, target, believed } = input;
	const n = frame.length;
	const nan = () => new Float32Array(n).fill(Number.NaN);
	const out: Deviation = { bank, settled: nan(), onset: nan(), absolute: nan(), lambda };
	const throttle = frame.first('tps', 'pedal');
	const lifts = near(lifted(segments.flags), FLAG.loaded, frame.timeS, believed.lagS);
	let onsetS = -Infinity;
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
		const settled = frame.timeS[i]! - onsetS >= ONSET_S - 1e-6 && !lifts[i];
		if (goal === goal) (settled ? out.settled : out.onset)[i] = 100 * (l / goal - 1);
		const ceiling = boosted ? profile.lambdaLeanBoosted : wide ? profile.lambdaLeanLoaded : Number.NaN;
		const off = !known || l / goal - 1 > profile.leanWatchPct / 100;
		if (settled && off) out.absolute[i] = l / ceiling;
	}
	return out;
}

/** Marks the sample after every loaded stretch: past it the sensor sees the mixture of the lift. */
function lifted(flags: Uint32Array): Uint32Array {
	const out = new Uint32Array(flags.length);
	for (let i = 0; i + 1 < flags.length; i++)
		if (flags[i]! & FLAG.loaded && !(flags[i + 1]! & FLAG.loaded)) out[i + 1] = FLAG.loaded;
	return out;
}
