/** The log of a standard drive, as the stand-in's customer sends it. */
import type { Calibration } from '../calibration/document.ts';
import { standardDrive } from './drive.ts';
import type { Faults } from './faults.ts';
import { logText, type LogStyle } from './log-text.ts';
import { simulate } from './simulate.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { gaugeStoich } from '../vehicle/facts.ts';

/** The log that this car would make with this calibration. */
export function driveLog(
	v: Vehicle,
	calibration: Calibration,
	faults: Faults,
	seed: number,
	{ style = 'brackets', monitor = false }: { style?: LogStyle['style']; monitor?: boolean } = {}
): string {
	const gears = v.transmission?.gears?.length ?? 5;
	return logText(
		simulate({
			vehicle: v,
			calibration,
			drive: standardDrive(gears, v.engine.revLimitRpm),
			faults,
			seed,
			rateHz: 20,
			monitor
		}),
		{ gaugeStoich: gaugeStoich(v), style }
	);
}
