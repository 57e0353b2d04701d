/** Logs of the demo world. */
import type { Calibration } from '../../src/core/calibration/document.ts';
import { standardDrive } from '../../src/core/simulator/drive.ts';
import type { Faults } from '../../src/core/simulator/faults.ts';
import { logText, type LogStyle } from '../../src/core/simulator/log-text.ts';
import { simulate } from '../../src/core/simulator/simulate.ts';
import { gaugeStoich, type Vehicle } from '../../src/core/vehicle/document.ts';

/** The log that this car would make with this calibration. */
export function drive(
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
