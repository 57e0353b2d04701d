/** What most checks need: a level that is held, stretches where something holds, a finding with its evidence. */
import type { Frame } from '../logfile/frame.ts';
import { runsOf, type Run } from '../segments/runs.ts';
import { median, thinned } from '../stats/stats.ts';
import { rangesOf, regionOf, round } from './evidence.ts';
import type { CheckInput, CheckResult, Finding } from './types.ts';

export interface Held {
	/** The level; NaN where no window of that length exists. */
	level: number;
	/** A sample at which it was held. */
	at: number;
}

/**
 * The highest level that is kept up for `holdS`: over all windows of that length the largest of their lowest values. One wild sample
 * doesn't count. Windows end where `use` says no, where a value is missing, and at holes of the recording.
 */
export function heldHigh(
	frame: Frame,
	values: Float32Array,
	holdS: number,
	use: (i: number) => boolean
): Held {
	const { timeS, stepS } = frame;
	const n = values.length;
	const hole = stepS * 5;
	const need = holdS - stepS - 1e-6;
	// Indices of the window with ascending values: the first is the lowest of the window.
	const queue = new Int32Array(n);
	let head = 0;
	let tail = 0;
	/** First sample of the stretch that windows may reach back to. */
	let start = 0;
	let from = 0;
	let level = Number.NEGATIVE_INFINITY;
	let at = -1;
	for (let i = 0; i < n; i++) {
		const v = values[i]!;
		// No window with a sample at or below the best so far can beat it; this also drops what is missing.
		if (!(v > level) || !use(i)) {
			head = tail = 0;
			start = from = i + 1;
			continue;
		}
		if (i > start && timeS[i]! - timeS[i - 1]! > hole) {
			head = tail = 0;
			start = from = i;
		}
		while (tail > head && values[queue[tail - 1]!]! > v) tail--;
		queue[tail++] = i;
		if (timeS[i]! - timeS[start]! < need) continue;
		// The shortest window ending here that is long enough.
		while (from < i && timeS[i]! - timeS[from + 1]! >= need) from++;
		while (queue[head]! < from) head++;
		at = queue[head]!;
		level = values[at]!;
		// From here on only windows above this level count: they begin after its sample.
		head = tail = 0;
		start = from = at + 1;
		i = at;
	}
	return at < 0 ? { level: Number.NaN, at } : { level, at };
}

/** The lowest level that is kept for `holdS`, see `heldHigh`. */
export function heldLow(
	frame: Frame,
	values: Float32Array,
	holdS: number,
	use: (i: number) => boolean
): Held {
	const { level, at } = heldHigh(
		frame,
		values.map((v) => -v),
		holdS,
		use
	);
	return { level: -level, at };
}

/** Stretches of at least `minS` where `test` holds; interruptions shorter than `closeS` don't end one. */
export function stretches(frame: Frame, minS: number, test: (i: number) => boolean, closeS = 0): Run[] {
	const holds = new Uint8Array(frame.length);
	for (let i = 0; i < holds.length; i++) holds[i] = test(i) ? 1 : 0;
	return runsOf(holds, frame.timeS, frame.stepS, minS, closeS);
}

export function notChecked(reason: string, missing: string): CheckResult {
	return { outcome: 'not-checked', reason, missing };
}

/** Nothing of the kind was driven. */
export const NEVER_LOADED = notChecked('the engine was never loaded in this log', 'loaded driving');

type Draft = Omit<Finding, 'ranges' | 'region'> & { runs?: readonly Run[] };

/** A finding with ranges and region of its stretches; channels that the log doesn't have are left out. */
export function finding({ frame }: Pick<CheckInput, 'frame'>, draft: Draft): Finding {
	const { runs = [], ...rest } = draft;
	const out: Finding = { ...rest, channels: rest.channels.filter((id) => frame.has(id)) };
	if (out.value !== undefined) out.value = round(out.value, 2);
	if (runs.length) {
		out.ranges = rangesOf(runs, frame.timeS);
		out.region = regionOf(runs, frame);
	}
	return out;
}

export const found = (...findings: Finding[]): CheckResult => ({ outcome: 'found', findings });
export const pass = (text: string): CheckResult => ({ outcome: 'pass', text });

/** Median over the samples for which `use` says yes; NaN with fewer than `least`. Thinned evenly beyond 20 000. */
export function medianWhere(values: Float32Array, use: (i: number) => boolean, least = 1): number {
	const kept = new Float32Array(values.length);
	let n = 0;
	for (let i = 0; i < values.length; i++) {
		const v = values[i]!;
		if (v === v && use(i)) kept[n++] = v;
	}
	return n < least ? Number.NaN : median(thinned(kept.subarray(0, n), MEDIAN_OF));
}

const MEDIAN_OF = 20_000;
