/** What most checks need: a level that is held, stretches where something holds, a finding with its evidence. */
import type { Prepared } from '../evidence/prepared.ts';
import type { Frame } from '../logfile/frame.ts';
import type { Run } from '../stats/runs.ts';
import { quantileInPlace } from '../stats/stats.ts';
import { rangesOf, regionOf, round } from './ranges.ts';
import type { CheckResult, Raised } from './types.ts';

type Test = (i: number) => boolean;
const always: Test = () => true;

export interface Held {
	/** The level; NaN where no window of that length exists. */
	level: number;
	/** A sample at which it was held. */
	at: number;
}

/**
 * The highest level that is kept up for `holdS`: over all windows of that length the largest of their lowest values. One wild sample
 * doesn't count. Windows lie inside the runs of `within`; they end where `use` says no, where a value is missing, and at holes of
 * the recording.
 */
export function heldHigh(
	frame: Frame,
	values: Float32Array,
	holdS: number,
	within: readonly Run[],
	use: Test = always
): Held {
	return held(frame, values, 1, holdS, within, use);
}

/** The lowest level that is kept for `holdS`, see `heldHigh`. */
export function heldLow(
	frame: Frame,
	values: Float32Array,
	holdS: number,
	within: readonly Run[],
	use: Test = always
): Held {
	const { level, at } = held(frame, values, -1, holdS, within, use);
	return { level: -level, at };
}

/** `heldHigh` of the values times `sign`. Linear: every sample enters the queue once and leaves it once. */
function held(
	{ timeS, stepS }: Frame,
	values: Float32Array,
	sign: 1 | -1,
	holdS: number,
	within: readonly Run[],
	use: Test
): Held {
	const hole = stepS * 5;
	const need = holdS - stepS - 1e-6;
	// A window of that length has at least so many samples after its first: while none of it is kept, the last of them is asked first.
	const ahead = Math.max(0, Math.ceil(need / hole));
	// Samples of the window with ascending values: the first is the lowest of the window.
	const window: number[] = [];
	let level = Number.NEGATIVE_INFINITY;
	let at = -1;
	for (const run of within) {
		let head = 0;
		let tail = 0;
		/** First sample that windows may reach back to. */
		let from = run.from;
		for (let i = run.from; i <= run.to; i++) {
			if (head === tail && i + ahead <= run.to && !(sign * values[i + ahead]! > level)) {
				i += ahead;
				from = i + 1;
				continue;
			}
			const v = sign * values[i]!;
			// No window with a sample at or below the best so far can beat it; this also drops what is missing.
			if (!(v > level) || !use(i)) {
				head = tail = 0;
				from = i + 1;
				continue;
			}
			if (i > from && timeS[i]! - timeS[i - 1]! > hole) {
				head = tail = 0;
				from = i;
			}
			while (tail > head && sign * values[window[tail - 1]!]! > v) tail--;
			window[tail++] = i;
			if (timeS[i]! - timeS[from]! < need) continue;
			// The shortest window ending here that is long enough.
			while (from < i && timeS[i]! - timeS[from + 1]! >= need) from++;
			while (window[head]! < from) head++;
			at = window[head]!;
			level = sign * values[at]!;
			// From here on only windows above this level count: they begin after its last sample.
			while (head < tail && sign * values[window[head]!]! <= level) from = window[head++]! + 1;
		}
	}
	return at < 0 ? { level: Number.NaN, at } : { level, at };
}

export function notChecked(reason: string, missing: string): CheckResult<never> {
	return { outcome: 'not-checked', reason, missing };
}

/** Nothing of the kind was driven. */
export const NEVER_LOADED = notChecked('the engine was never loaded in this log', 'loaded driving');

type Draft<Facts extends object> = Omit<Raised<Facts>, 'ranges' | 'region'> & { runs?: readonly Run[] };

/**
 * A finding with ranges and region of its stretches. Channels that the log doesn't have are left out, and so are facts that are no number.
 */
export function finding<Facts extends object>(
	{ frame }: Pick<Prepared, 'frame'>,
	draft: Draft<Facts>
): Raised<Facts> {
	const { runs = [], ...rest } = draft;
	const out: Raised<Facts> = {
		...rest,
		facts: known(rest.facts),
		channels: rest.channels.filter((id) => frame.has(id))
	};
	if (out.value !== undefined) out.value = round(out.value, 2);
	if (runs.length) {
		out.ranges = rangesOf(runs, frame.timeS);
		out.region = regionOf(runs, frame);
	}
	return out;
}

/** What is missing or no number isn't a fact; six digits are more than any sensor tells. */
function known<Facts extends object>(facts: Facts): Facts {
	const kept = Object.entries(facts).flatMap(([name, v]: [string, unknown]) => {
		if (v === undefined || (typeof v === 'number' && !Number.isFinite(v))) return [];
		return [[name, digits(v)]];
	});
	return Object.fromEntries(kept) as Facts;
}

const digits = (v: unknown): unknown =>
	typeof v === 'number' ? Number(v.toPrecision(6)) : Array.isArray(v) ? v.map(digits) : v;

export const found = <Facts extends object>(...findings: Raised<Facts>[]): CheckResult<Facts> => ({
	outcome: 'found',
	findings
});
export const pass = (text: string): CheckResult<never> => ({ outcome: 'pass', text });

/** Median over the samples for which `use` says yes, see `medianAt`. */
export function medianWhere(values: Float32Array, use: Test, least = 1): number {
	return medianAt(values, samplesWhere(values.length, use), least);
}

/** The samples below `length` for which `use` says yes, in order of time. */
export function samplesWhere(length: number, use: Test): Int32Array {
	const out = new Int32Array(length);
	let n = 0;
	for (let i = 0; i < length; i++) if (use(i)) out[n++] = i;
	return out.subarray(0, n);
}

/** Enough samples for a median or a mean. */
export const ENOUGH = 20_000;

/** Median over `samples`; NaN with fewer than `least` that are there. Of more than 20 000 samples every so many are taken. */
export function medianAt(values: Float32Array, samples: Int32Array, least = 1): number {
	let kept = there(values, everySo(samples, ENOUGH));
	// Mostly holes: then all of them have to be looked at.
	if (kept.length < Math.max(least, ENOUGH / 10)) kept = there(values, samples);
	return kept.length < least ? Number.NaN : quantileInPlace(kept, 0.5);
}

/** Every so many of `samples`, so that at least `count` are left of more than that. */
export function everySo(samples: Int32Array, count: number): Int32Array {
	const step = Math.floor(samples.length / count);
	if (step <= 1) return samples;
	const out = new Int32Array(Math.ceil(samples.length / step));
	for (let k = 0; k < out.length; k++) out[k] = samples[k * step]!;
	return out;
}

/** The values at `samples` that are not missing. */
function there(values: Float32Array, samples: Int32Array): Float64Array {
	const out = new Float64Array(samples.length);
	let n = 0;
	for (let k = 0; k < samples.length; k++) {
		const v = values[samples[k]!]!;
		if (v === v) out[n++] = v;
	}
	return out.subarray(0, n);
}
