/** Timeslips from logged speed: times to 60 ft, 1/8 and 1/4 mile from a standing start, with the speeds there. */
import { z } from 'zod';
import { InputError } from '../input-error.ts';
import type { Frame } from '../logfile/frame.ts';
import { parseWith } from '../parse.ts';

export interface Timeslip {
	/** Seconds of the log at which the car began to move. */
	startS: number;
	/** Seconds from the start; null where the run was shorter. */
	ft60: number | null;
	eighth: number | null;
	quarter: number | null;
	/** km/h. */
	eighthKmh: number | null;
	quarterKmh: number | null;
}

const STANDING_KMH = 2;
const FT60_M = 18.288;
const EIGHTH_M = 201.168;
const QUARTER_M = 402.336;
/** A run has to get somewhere: at least the sixty feet, gathering speed. */
const LEAST_KMH = 60;
/** Street driving is no run: the throttle is open for this share of the time to 60 km/h, shifts and a careful start apart. */
const FULL_PCT = 90;
const FULL_SHARE = 0.7;

/**
 * Every run at full throttle from a standstill that reaches 60 km/h, in the order of time. A log that doesn't say what the throttle did
 * has none.
 */
export function timeslips(frame: Frame): Timeslip[] {
	const speed = frame.get('speed');
	const throttle = frame.get('pedal') ?? frame.get('tps');
	if (!speed || !throttle) return [];
	const out: Timeslip[] = [];
	let start = -1;
	for (let i = 1; i < frame.length; i++) {
		if (speed[i]! <= STANDING_KMH) start = i;
		else if (start >= 0 && speed[i]! > LEAST_KMH) {
			if (openShare(frame, throttle, start, i) >= FULL_SHARE) out.push(run(frame, speed, throttle, start));
			start = -1;
		}
	}
	return out;
}

/** Share of the time between two samples with the throttle open. */
function openShare(frame: Frame, throttle: Float32Array, from: number, to: number): number {
	let open = 0;
	let all = 0;
	for (let i = from + 1; i <= to; i++) {
		const dt = frame.timeS[i]! - frame.timeS[i - 1]!;
		all += dt;
		if (throttle[i]! >= FULL_PCT) open += dt;
	}
	return all > 0 ? open / all : 0;
}

/** Marks count for as long as the run is one: a lift ends it. */
function run(frame: Frame, speed: Float32Array, throttle: Float32Array, start: number): Timeslip {
	const t0 = frame.timeS[start]!;
	let metres = 0;
	const slip: Timeslip = {
		startS: t0,
		ft60: null,
		eighth: null,
		quarter: null,
		eighthKmh: null,
		quarterKmh: null
	};
	for (let i = start + 1; i < frame.length && speed[i]! > STANDING_KMH && slip.quarter === null; i++) {
		const dt = frame.timeS[i]! - frame.timeS[i - 1]!;
		const before = metres;
		const v0 = speed[i - 1]! / 3.6;
		const v1 = speed[i]! / 3.6;
		metres += ((v0 + v1) / 2) * dt;
		/** Moment within the step at which a mark was passed. */
		const at = (mark: number) => {
			const share = (mark - before) / (metres - before);
			return { s: frame.timeS[i - 1]! + share * dt - t0, kmh: (v0 + (v1 - v0) * share) * 3.6 };
		};
		if (slip.ft60 === null && metres >= FT60_M) slip.ft60 = at(FT60_M).s;
		const holds = () => openShare(frame, throttle, start, i) >= FULL_SHARE;
		if (slip.eighth === null && metres >= EIGHTH_M) {
			if (!holds()) break;
			const { s, kmh } = at(EIGHTH_M);
			slip.eighth = s;
			slip.eighthKmh = kmh;
		}
		if (metres >= QUARTER_M) {
			if (!holds()) break;
			const { s, kmh } = at(QUARTER_M);
			slip.quarter = s;
			slip.quarterKmh = kmh;
		}
	}
	return slip;
}

const seconds = z.number().positive().max(100).nullable();
const kmh = z.number().positive().max(700).nullable();
/** A slip as the strip prints it; what it doesn't say is null. */
export const slipSchema = z.object({
	ft60: seconds,
	eighth: seconds,
	eighthKmh: kmh,
	quarter: seconds,
	quarterKmh: kmh
});
export type Slip = z.infer<typeof slipSchema>;

/** @throws InputError for a slip that says nothing, or whose times don't follow one another */
export function checkedSlip(input: unknown): Slip {
	const slip = parseWith(slipSchema, input);
	const times = [
		['60 ft', slip.ft60],
		['1/8 mile', slip.eighth],
		['1/4 mile', slip.quarter]
	] as const;
	const known = times.filter(([, t]) => t !== null);
	if (known.length === 0) throw new InputError('write at least one time of the slip');
	known.forEach(([name, t], i) => {
		const before = known[i - 1];
		if (before && t! <= before[1]!)
			throw new InputError(`${t} s to the ${name} is not after ${before[1]} s to the ${before[0]}`);
	});
	return slip;
}
