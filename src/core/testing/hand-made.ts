/** Hand-made logs for tests: columns written out by the test itself, not by the stand-in vehicle. */
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import { channelKind } from '../channels/canonical.ts';
import type { Log } from '../logfile/log.ts';
import type { Report } from '../screening/report.ts';
import { screen } from '../screening/screen.ts';
import { CANONICAL_UNIT } from '../units/units.ts';
import { parseVehicle, type Vehicle } from '../vehicle/document.ts';

/** Value of a channel at a moment. */
export type Shape = (t: number) => number;

/** A log of `seconds` at `rateHz` whose channels are functions of time in canonical units. */
export function handMade(seconds: number, rateHz: number, shapes: Record<string, Shape>): Log {
	const timeS = Float64Array.from({ length: Math.round(seconds * rateHz) }, (_, i) => i / rateHz);
	const columns = Object.entries(shapes).map(([id, shape]): [string, Float32Array] => [
		id,
		Float32Array.from(timeS, (t) => shape(t))
	]);
	return logOf(timeS, rateHz, columns);
}

/** A log of one channel in its canonical unit, at moments of the test's own. */
export function columnOn(timeS: Float64Array, id: string, values: Float32Array): Log {
	return logOf(timeS, timeS.length / (timeS.at(-1)! - timeS[0]!), [[id, values]]);
}

function logOf(timeS: Float64Array, rateHz: number, columns: [string, Float32Array][]): Log {
	return {
		channels: columns.map(([id, values]) => ({
			id,
			raw: id,
			rawUnit: '',
			unit: CANONICAL_UNIT[channelKind(id).quantity],
			note: '',
			source: 'recognised',
			contradiction: null,
			undecided: null,
			readAs: '',
			conversion: { scale: 1, offset: 0 },
			timeS,
			values,
			rateHz,
			texts: []
		})),
		unmapped: [],
		rows: timeS.length,
		durationS: timeS.length / rateHz,
		notes: [],
		timeFaults: { restartsS: [], repeated: 0, backward: 0 }
	};
}

/** Inside the pull that `pullShapes` makes when nothing else is said. */
export const inPull = (t: number): boolean => t >= 10 && t < 16;
/** The same value all along. */
export const at =
	(v: number): Shape =>
	() =>
		v;
/** One value in the pull, another outside of it. */
export const pulled =
	(inside: number, outside: number): Shape =>
	(t) =>
		inPull(t) ? inside : outside;

/** Air that follows the engine: `inside` g/s at the top of the pull, 30 g/s at cruise, × `share`. */
export const air =
	(inside: number, share = 1): Shape =>
	(t) =>
		share * (inPull(t) ? inside : 30) * (1 + 0.02 * Math.sin(t * 3));
/** A channel of each of six cylinders. */
export const perCylinder = (prefix: string, shape: (cylinder: number) => Shape): Record<string, Shape> =>
	Object.fromEntries([1, 2, 3, 4, 5, 6].map((c) => [`${prefix}.cyl${c}`, shape(c)]));

/** A pull in third gear between `from` and `from + 6` s, 2500 to 6500 rpm at 170 kPa; steady part load at 2500 rpm around it. */
export function pullShapes(from = 10, seconds = 6): Record<string, Shape> {
	const inside = (t: number) => t >= from && t < from + seconds;
	return {
		rpm: (t) => (inside(t) ? 2500 + ((t - from) / seconds) * 4000 : 2500),
		map: (t) => (inside(t) ? 170 : 45),
		baro: () => 100,
		tps: (t) => (inside(t) ? 100 : 18),
		ect: () => 88,
		'lambda.target': (t) => (inside(t) ? 0.8 : 1),
		'lambda.b1': (t) => (inside(t) ? 0.8 : 1),
		knockRetard: () => 0,
		'pw.b1': (t) => (inside(t) ? 9 : 3)
	};
}

/** A calibration of these items, checked as one that is read from a file. @param more name and fuel model, where they matter */
export const calibrationWith = (items: unknown[], more: object = {}): Calibration =>
	parseCalibration({
		schema: 'tanto.calibration/1',
		name: 'c',
		fuelModel: 'speed-density',
		...more,
		items
	});

export function vehicleWith(engine: object = {}, more: object = {}): Vehicle {
	return parseVehicle({
		schema: 'tanto.vehicle/1',
		name: 'test vehicle',
		engine: {
			layout: 'inline',
			cylinders: 4,
			aspiration: 'turbo',
			injection: 'port',
			idleRpm: 850,
			revLimitRpm: 7000,
			...engine
		},
		...more
	});
}

export const twoBanks = (more: object = {}): Vehicle => vehicleWith({ layout: 'v', cylinders: 6 }, more);

export function reportOf(log: Log, vehicle: Vehicle, calibrations: Calibration[] = []): Report {
	return screen(log, { vehicle, calibrations });
}

export function findingOf(report: Report, code: string): Report['findings'][number] | undefined {
	return report.findings.find((f) => f.code === code);
}

export function outcomeOf(report: Report, code: string): Report['checks'][number] {
	return report.checks.find((c) => c.code === code)!;
}

export const v6 = vehicleWith({ cylinders: 6 });
