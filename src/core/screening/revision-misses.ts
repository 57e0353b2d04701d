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
	/** Samples in them, as stretches. */
	runs: Run[];
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

function missesAgainst(
	{ frame, segments, ...input }: Prepared,
	logged: Float32Array,
	expected: Float32Array,
	most: number,
	leanOnly: boolean
): Misses | null {
	const rpm = frame.get('rpm');
	const map = frame.get('map');
	if (!rpm) return null;
	const usable = steadyState({ frame, segments, ...input });
	interface Place {
		n: number;
		seconds: number;
		sum: number;
		squares: number;
	}
	const places = new Map<number, Place>();
	const placeOf = new Int32Array(frame.length).fill(-1);
	for (let i = 0; i < frame.length; i++) {
		const d = logged[i]! - expected[i]!;
		if (d !== d || !(rpm[i]! > 0) || !usable(i)) continue;
		const key = Math.floor(rpm[i]! / BIN_RPM) * 1000 + (map ? Math.floor(map[i]! / BIN_KPA) : 0);
		let place = places.get(key);
		if (!place) places.set(key, (place = { n: 0, seconds: 0, sum: 0, squares: 0 }));
		place.n++;
		place.seconds += frame.dtS[i]!;
		place.sum += d;
		place.squares += d * d;
		placeOf[i] = key;
	}
	const side = new Map<number, number>();
	for (const [key, p] of places) {
		if (p.n < LEAST_SAMPLES || p.seconds < LEAST_S) continue;
		const mean = p.sum / p.n;
		const sd = Math.sqrt(Math.max(0, p.squares / p.n - mean * mean));
		const se = sd / Math.sqrt(Math.max(1, Math.min(p.n, p.seconds / ALIKE_S)));
		if (Math.abs(mean) - SURE * se > most && !(leanOnly && mean < 0)) side.set(key, Math.sign(mean));
	}
	let best: Misses | null = null;
	for (const sign of [1, -1]) {
		const keys = new Set([...side].filter(([, s]) => s === sign).map(([key]) => key));
		const own = [...keys].map((key) => places.get(key)!);
		const seconds = own.reduce((s, p) => s + p.seconds, 0);
		if (keys.size < LEAST_PLACES || seconds < LEAST_TOTAL_S || seconds <= (best?.seconds ?? 0)) continue;
		const mean = own.reduce((s, p) => s + p.sum, 0) / own.reduce((s, p) => s + p.n, 0);
		best = { mean, seconds, runs: runsIn(placeOf, keys) };
	}
	return best;
}

function runsIn(placeOf: Int32Array, keys: ReadonlySet<number>): Run[] {
	const out: Run[] = [];
	for (let i = 0; i < placeOf.length; i++) {
		if (!keys.has(placeOf[i]!)) continue;
		const last = out.at(-1);
		if (last && last.to === i - 1) last.to = i;
		else out.push({ from: i, to: i });
	}
	return out;
}
