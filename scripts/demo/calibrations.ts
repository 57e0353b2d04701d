/** Calibrations that the stories of the demo world begin with. */
import { parseCalibration, type Calibration, type FuelModel } from '../../src/core/calibration/document.ts';
import { baseCalibration } from '../../src/core/simulator/base-calibration.ts';
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
