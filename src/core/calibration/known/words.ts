/** Words and sizes that several items share. */
import type { Size } from '../item-kind.ts';

export const FUEL_PCT: Size = { by: 0.2, relative: true, unit: '%', digits: 1 };
export const TRIM_PCT: Size = { by: 0.2, relative: false, unit: '%', digits: 1 };
export const DEGREES: Size = { by: 0.05, relative: false, unit: '°', digits: 1 };
export const fuelling = (tolerance: Size) => ({
	riskier: 'down' as const,
	up: 'more fuel',
	down: 'fuel taken out',
	tolerance
});
export const advancing = {
	riskier: 'up' as const,
	up: 'timing added',
	down: 'timing taken out',
	tolerance: DEGREES
};
export const exactly = (unit: string): Size => ({ by: 0, relative: false, unit, digits: 1 });

export const INJECTOR_CAUTION = {
	text: 'The injector data changed. Before anything else: reset the learned trims, look over every joint for fuel leaks with the system under pressure (cold engine, ventilation, fire extinguisher at hand), and log on the ordinary fuel first.'
};
export const SENSOR_CAUTION = {
	text: 'A sensor or trigger setting changed. Let it idle first and check that the readings make sense before you drive.'
};
export const TIMING_CAUTION = {
	risky: true,
	text: 'Timing was added. Listen, and lift at once if it pings; send the log even if nothing was heard.'
};
