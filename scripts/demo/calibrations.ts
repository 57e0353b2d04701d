/** Calibrations that the stories of the demo world begin with. */
import { parseCalibration, type Calibration, type FuelModel } from '../../src/core/calibration/document.ts';
import { baseCalibration, shapeOf } from '../../src/core/simulator/base-calibration.ts';
import { trueVePct } from '../../src/core/simulator/truth.ts';
import type { Vehicle } from '../../src/core/vehicle/document.ts';

export function base(
	v: Vehicle,
	fuelModel: FuelModel,
	name: string,
	more: { fuelError?: (r: number, l: number) => number; timingMarginDeg?: number; boostKpa?: number } = {}
): Calibration {
	return parseCalibration(baseCalibration({ vehicle: v, fuelModel, name, ...more }));
}

/** As somebody left it who was afraid: no more timing than this from about atmosphere up, and base timing checked with a light. */
export function timid(c: Calibration, mostDeg: number): Calibration {
	return parseCalibration({
		...c,
		items: c.items.map((i) => {
			if (i.id === 'spark.baseVerified') return { ...i, value: 'timing light, at idle' };
			if (i.id !== 'spark.table' || i.kind !== 'map') return i;
			const loaded = (row: number) => i.y.points[row]! >= AFRAID_FROM_KPA;
			return {
				...i,
				values: i.values.map((row, r) => (loaded(r) ? row.map((v) => Math.min(v, mostDeg)) : row))
			};
		})
	});
}
const AFRAID_FROM_KPA = 95;

/** Room air, where a table of the air model holds: gas constant J/(kg K) × 293.15 K. */
const ROOM_AIR = 287.05 * 293.15;

/** With a model of the air beside the meter, right but for a share of error by engine speed and pressure. */
export function withAirModel(
	c: Calibration,
	v: Vehicle,
	error: (rpm: number, kpa: number) => number
): Calibration {
	const rpm = Array.from({ length: 12 }, (_, i) => 500 * (i + 1));
	const kpa = Array.from({ length: 9 }, (_, i) => 20 + 10 * i);
	const airGs = (r: number, k: number) =>
		((trueVePct(v, shapeOf(v.name), r, k) / 100) * k * (v.engine.displacementL ?? 2) * 1000 * r) /
		(ROOM_AIR * 120);
	const item = {
		id: 'air.model',
		kind: 'map',
		unit: 'g/s',
		x: { channel: 'rpm', unit: 'rpm', points: rpm },
		y: { channel: 'map', unit: 'kPa', points: kpa },
		values: kpa.map((k) => rpm.map((r) => Number((airGs(r, k) * (1 + error(r, k))).toFixed(2))))
	};
	return parseCalibration({ ...c, items: [...c.items, item] });
}

/** With trims by cylinder, in percent. */
export function withCylinderTrims(c: Calibration, fuel: number[]): Calibration {
	const curve = (id: string, values: number[]) => ({
		id,
		kind: 'curve',
		x: { channel: 'cylinder', points: values.map((_, i) => i + 1) },
		values
	});
	const own = new Set(['fuel.cylTrim', 'spark.cylTrim']);
	return parseCalibration({
		...c,
		items: [
			...c.items.filter((i) => !own.has(i.id)),
			curve('fuel.cylTrim', fuel),
			curve(
				'spark.cylTrim',
				fuel.map(() => 0)
			)
		]
	});
}
