/** What a log says of its gears, as tables. */
import type { Prepared } from '../evidence/prepared.ts';
import { findItem } from '../calibration/lookup.ts';
import { shiftRpm, upshifts } from './checks/drivetrain.ts';

export interface ShiftRow {
	atS: number;
	gear: number;
	rpm: number;
	/** Pedal, else throttle, %. */
	pedalPct: number;
	full: boolean;
	/** What the calibration asks for; null where it doesn't say. */
	wantedRpm: number | null;
}

export interface DrivetrainView {
	/** False where neither a gear is logged nor one can be told from the speeds. */
	gearKnown: boolean;
	shifts: ShiftRow[];
}

export function drivetrainView(input: Prepared): DrivetrainView {
	const { frame, segments, calibration } = input;
	const wanted = calibration ? findItem(calibration, 'shift.rpm') : undefined;
	return {
		gearKnown: segments.gear !== null,
		shifts: upshifts(input).map((s) => ({
			atS: frame.timeS[s.from]!,
			gear: s.gear,
			rpm: s.rpm,
			pedalPct: s.pedal,
			full: s.full,
			wantedRpm: shiftRpm(wanted, s.gear, s.pedal)
		}))
	};
}
