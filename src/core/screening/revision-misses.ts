/**
 * Where a log's own set points are certainly not those of a revision: by table and place. The mean over a whole log hides a file that is
 * another one at full load only.
 */
import { along } from '../calibration/along.ts';
import { timingAlong } from '../calibration/fuel-along.ts';
import type { Calibration } from '../calibration/document.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { FLAG, UNUSABLE } from '../evidence/segments/kinds.ts';
import type { Run } from '../stats/runs.ts';

export interface Misses {
	/** Mean of logged less table over the places that miss, in the unit of the table. */
	mean: number;
	/** Time in those places. */
	seconds: number;
	/** Samples in them, as stretches: worked out where somebody shows them. */
	runs: () => Run[];
}

const BIN_RPM = 500;
const BIN_KPA = 20;
/** A place is judged from this much time and this many samples on. */
const LEAST_S = 0.4;
const LEAST_SAMPLES = 4;
/** Samples within this time say the same once. */
const ALIKE_S = 0.5;
const LEAST_PLACES = 3;
const LEAST_TOTAL_S = 2;
/** Two-sided 95 % of the normal distribution. */
const SURE = 1.96;

type Test = (i: number) => boolean;

/** Samples at which a controller gives what its table says: no idle, cut, cold start, limiter, or intervention. */
function steadyState({ frame, segments }: Prepared): Test {
	const torque = frame.get('torqueLimit');
	return (i) => !(segments.flags[i]! & (UNUSABLE | FLAG.idle | FLAG.limited)) && !(torque && torque[i]! > 0);
}

/** What a revision may have given for a channel: the table, and with what is known to be added to it. */
function expectations(input: Prepared, c: Calibration, id: string): Float32Array[] {
	const { frame, segments } = input;
	const table = along(frame, c, id, segments.baroKpa);
	if (!table) return [];
	const corrected = id === 'spark.table' ? timingAlong(frame, c, segments.baroKpa) : null;
	return corrected ? [table, corrected] : [table];
}

/**
 * Places that a revision certainly misses by more than a limit, all to one side; `null` where they are too few, or the channel or table isn't there.
 * @param most largest difference that is none, in the unit of the table
 * @param id `spark.table` or `lambda.target`; a target that is only richer is no miss: protection of parts does that
 */
export function missesOf(
	input: Prepared,
	c: Calibration,
	id: string,
	channel: string,
	most: number
): Misses | null {
	const logged = input.frame.get(channel);
	if (!logged) return null;
	const all = expectations(input, c, id).map((expected) =>
		missesAgainst(input, logged, expected, most, id === 'lambda.target')
	);
	// Of two ways in which it may have come about the one that explains more.
	if (all.length === 0 || all.some((m) => m === null)) return null;
	return all.reduce((a, b) => (b!.seconds < a!.seconds ? b : a));
}

/** The steady samples of a log by place, numbered as they come: what every revision and table is held against. */
interface SteadyPlaces {
	/** Place of each sample; −1 where it isn't steady. */
	placeOf: Int32Array;
	count: number;
}

const known = new WeakMap<Prepared, SteadyPlaces | null>();

function steadyPlaces(input: Prepared): SteadyPlaces | null {
	const before = known.get(input);
	if (before !== undefined) return before;
	const { frame } = input;
	const rpm = frame.get('rpm');
	const map = frame.get('map');
	let places: SteadyPlaces | null = null;
	if (rpm) {
		const usable = steadyState(input);
		const numbers = new Map<number, number>();
		const placeOf = new Int32Array(frame.length).fill(-1);
		// Neighbouring samples mostly share their place.
		let [lastKey, last] = [Number.NaN, -1];
		for (let i = 0; i < frame.length; i++) {
			if (!(rpm[i]! > 0) || !usable(i)) continue;
			const key = Math.floor(rpm[i]! / BIN_RPM) * 1000 + (map ? Math.floor(map[i]! / BIN_KPA) : 0);
			if (key !== lastKey) {
				const number = numbers.get(key) ?? numbers.size;
				numbers.set(key, number);
				[lastKey, last] = [key, number];
			}
			placeOf[i] = last;
		}
		places = { placeOf, count: numbers.size };
	}
	known.set(input, places);
	return places;
}

function missesAgainst(
	input: Prepared,
	logged: Float32Array,
	expected: Float32Array,
	most: number,
	leanOnly: boolean
): Misses | null {
	const steady = steadyPlaces(input);
	if (!steady) return null;
	const { placeOf, count } = steady;
	const { dtS } = input.frame;
	const n = new Int32Array(count);
	const time = new Float64Array(count);
	const sum = new Float64Array(count);
	const squares = new Float64Array(count);
	for (let i = 0; i < placeOf.length; i++) {
		const place = placeOf[i]!;
		if (place < 0) continue;
		const d = logged[i]! - expected[i]!;
		if (d !== d) continue;
		n[place]!++;
		time[place]! += dtS[i]!;
		sum[place]! += d;
		squares[place]! += d * d;
	}
	/** To which side a place certainly misses; 0 where it doesn't. */
	const side = new Int8Array(count);
	for (let p = 0; p < count; p++) {
		if (n[p]! < LEAST_SAMPLES || time[p]! < LEAST_S) continue;
		const mean = sum[p]! / n[p]!;
		const sd = Math.sqrt(Math.max(0, squares[p]! / n[p]! - mean * mean));
		const se = sd / Math.sqrt(Math.max(1, Math.min(n[p]!, time[p]! / ALIKE_S)));
		if (Math.abs(mean) - SURE * se > most && !(leanOnly && mean < 0)) side[p] = Math.sign(mean);
	}
	let best: { sign: number; mean: number; seconds: number } | null = null;
	for (const sign of [1, -1]) {
		let [places, seconds, samples, total] = [0, 0, 0, 0];
		for (let p = 0; p < count; p++) {
			if (side[p] !== sign) continue;
			places++;
			seconds += time[p]!;
			samples += n[p]!;
			total += sum[p]!;
		}
		if (places < LEAST_PLACES || seconds < LEAST_TOTAL_S || seconds <= (best?.seconds ?? 0)) continue;
		best = { sign, mean: total / samples, seconds };
	}
	if (!best) return null;
	const { sign, mean, seconds } = best;
	const missed = (i: number) =>
		placeOf[i]! >= 0 && side[placeOf[i]!] === sign && logged[i]! - expected[i]! === logged[i]! - expected[i]!;
	return { mean, seconds, runs: () => runsWhere(placeOf.length, missed) };
}

function runsWhere(length: number, holds: (i: number) => boolean): Run[] {
	const out: Run[] = [];
	for (let i = 0; i < length; i++) {
		if (!holds(i)) continue;
		const last = out.at(-1);
		if (last && last.to === i - 1) last.to = i;
		else out.push({ from: i, to: i });
	}
	return out;
}
