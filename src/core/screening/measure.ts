/** What most checks need: a level that is held, stretches where something holds, a finding with its evidence. */
import type { Frame } from '../logfile/frame.ts';
import { runsOf, type Run } from '../segments/runs.ts';
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
	// Indices of the window with ascending values: the first is the lowest of the window.
	const queue = new Int32Array(values.length);
	let head = 0;
	let tail = 0;
	let start = 0;
	let from = 0;
	const best: Held = { level: Number.NaN, at: -1 };
	for (let i = 0; i < values.length; i++) {
		const v = values[i]!;
		const hole = i > 0 && timeS[i]! - timeS[i - 1]! > stepS * 5;
		if (v !== v || !use(i)) {
			head = tail = 0;
			start = from = i + 1;
			continue;
		}
		if (hole) {
			head = tail = 0;
			start = from = i;
		}
		while (tail > head && values[queue[tail - 1]!]! > v) tail--;
		queue[tail++] = i;
		// The shortest window ending here that is long enough.
		while (timeS[i]! - timeS[from + 1]! + stepS >= holdS - 1e-6 && from < i) from++;
		while (queue[head]! < from) head++;
		if (timeS[i]! - timeS[start]! + stepS < holdS - 1e-6) continue;
		const low = values[queue[head]!]!;
		if (!(low <= best.level)) {
			best.level = low;
			best.at = queue[head]!;
		}
	}
	return best;
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
	const kept: number[] = [];
	for (let i = 0; i < values.length; i++) if (values[i] === values[i] && use(i)) kept.push(values[i]!);
	if (kept.length < least) return Number.NaN;
	const step = Math.max(1, kept.length / 20_000);
	const thin: number[] = [];
	for (let k = 0; k < kept.length; k += step) thin.push(kept[Math.floor(k)]!);
	thin.sort((a, b) => a - b);
	const n = thin.length;
	return n % 2 ? thin[n >> 1]! : (thin[(n >> 1) - 1]! + thin[n >> 1]!) / 2;
}
