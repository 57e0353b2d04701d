/** Timeslips from logged speed: times to 60 ft, 1/8 and 1/4 mile from a standing start, with the speeds there. */
import type { Frame } from '../logfile/frame.ts';

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

/** Every run from a standstill that reaches 60 km/h, in the order of time. */
export function timeslips(frame: Frame): Timeslip[] {
	const speed = frame.get('speed');
	if (!speed) return [];
	const out: Timeslip[] = [];
	let start = -1;
	for (let i = 1; i < frame.length; i++) {
		if (speed[i]! <= STANDING_KMH) start = i;
		else if (start >= 0 && speed[i]! > LEAST_KMH) {
			out.push(run(frame, speed, start));
			start = -1;
		}
	}
	return out;
}

function run(frame: Frame, speed: Float32Array, start: number): Timeslip {
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
		if (slip.eighth === null && metres >= EIGHTH_M) {
			const { s, kmh } = at(EIGHTH_M);
			slip.eighth = s;
			slip.eighthKmh = kmh;
		}
		if (metres >= QUARTER_M) {
			const { s, kmh } = at(QUARTER_M);
			slip.quarter = s;
			slip.quarterKmh = kmh;
		}
	}
	return slip;
}
