/** What an injector loses of every pulse before it flows, by the supply. */
import { interpolateCurve } from '../calibration/grid.ts';
import type { Vehicle } from '../vehicle/document.ts';

/** Supply of a running engine, where none is logged. */
export const RUNNING_V = 14;

/**
 * Dead time of a vehicle's injectors, ms; 0 where none is stated.
 * @param volts supply at the controller
 */
export function deadTimeMs(vehicle: Vehicle, volts = RUNNING_V): number {
	return deadTimeOf(vehicle.injectors?.deadTimeMs, volts);
}

/** The same by a curve of supply and dead time. */
export function deadTimeOf(curve: readonly (readonly [number, number])[] | undefined, volts: number): number {
	if (!curve?.length) return 0;
	const [supply, dead] = [curve.map((d) => d[0]), curve.map((d) => d[1])];
	return interpolateCurve(supply, dead, volts);
}
