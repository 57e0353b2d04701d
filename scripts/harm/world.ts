/** A world in which the loop is tried: a vehicle, a base that is wrong, what is hidden in the car; and the truth of it under load. */
import { parseCalibration, type Calibration, type FuelModel } from '../../src/core/calibration/document.ts';
import { baseCalibration } from '../../src/core/simulator/base-calibration.ts';
import { standardDrive } from '../../src/core/simulator/drive.ts';
import type { Faults } from '../../src/core/simulator/faults.ts';
import { simulate, type SimLog } from '../../src/core/simulator/simulate.ts';
import { Rng } from '../../src/core/stats/rng.ts';
import { inOtherUnits } from '../../src/core/testing/other-units.ts';
import { type Vehicle } from '../../src/core/vehicle/document.ts';
import { VEHICLES, withSensors } from '../../src/core/simulator/vehicles.ts';
import { WRONGS, type Wrong } from './wrongs.ts';

/** Most that a base is wrong by, share. */
export const BASE_WRONG = 0.12;
const WITH_INSTRUMENT = 0.6;
/** Share of the files that have trims by cylinder. */
const WITH_TRIMS = 0.5;
const TWO_WRONGS = 0.4;
const MODELS: FuelModel[] = ['speed-density', 'pulse-width', 'maf'];
const RATE_HZ = 20;

export interface World {
	seed: number;
	vehicle: Vehicle;
	model: FuelModel;
	wrongs: Wrong[];
	/** As the tuner has it, and the same in canonical units. */
	base: Calibration;
	canonicalBase: Calibration;
	/** In the car. */
	driven: Calibration;
	faults: Faults;
}

export function worldOf(seed: number): World {
	const rng = new Rng(seed * 7919 + 13);
	const pick = <T>(list: readonly T[]): T => list[Math.floor(rng.next() * list.length)]!;
	const vehicle = withSensors(pick(Object.values(VEHICLES)), rng.next() < WITH_INSTRUMENT);
	const model = pick(MODELS);
	const fitting = WRONGS.filter((w) => !w.fits || w.fits(vehicle));
	const wrongs = [pick(fitting)];
	if (rng.next() < TWO_WRONGS) {
		const more = pick(fitting);
		if (more !== wrongs[0]) wrongs.push(more);
	}
	const [a, b, c] = [rng.next(), rng.next(), rng.next()];
	const trims = rng.next() < WITH_TRIMS;
	const fuelError = (rpm: number, load: number) =>
		BASE_WRONG * Math.sin(6.28 * a + (1 + 2 * b) * rpm + (1 + 2 * c) * load);
	const made = (name: string, error: (r: number, l: number) => number, marginDeg: number) => {
		const plain = baseCalibration({
			vehicle,
			fuelModel: model,
			name,
			fuelError: error,
			timingMarginDeg: marginDeg
		});
		const points = Array.from({ length: vehicle.engine.cylinders }, (_, k) => k + 1);
		const zero = {
			id: 'fuel.cylTrim',
			kind: 'curve' as const,
			unit: '%',
			decimals: 1,
			x: { channel: 'cylinder', points },
			values: points.map(() => 0)
		};
		return parseCalibration(trims ? { ...plain, items: [...plain.items, zero] } : plain);
	};
	const canonicalBase = made('base', fuelError, 3);
	const base = wrongs.some((w) => w.otherUnits) ? inOtherUnits(canonicalBase) : canonicalBase;
	const driven = wrongs.some((w) => w.otherFile)
		? made('other', (r, l) => fuelError(r, l) + 0.08, 0)
		: canonicalBase;
	const faults = Object.assign({}, ...wrongs.map((w) => w.faults?.(rng, vehicle) ?? {})) as Faults;
	return { seed, vehicle, model, wrongs, base, canonicalBase, driven, faults };
}

const driveOf = (v: Vehicle) => standardDrive(v.transmission?.gears?.length ?? 5, v.engine.revLimitRpm);

/** The log as the customer sends it. */
export function loggedIn({ vehicle, driven, faults, seed, wrongs }: World): SimLog {
	const log = simulate({
		vehicle,
		calibration: driven,
		drive: driveOf(vehicle),
		faults,
		seed,
		rateHz: RATE_HZ
	});
	const rng = new Rng(seed + 99);
	for (const wrong of wrongs) wrong.log?.(log, rng, vehicle);
	return log;
}
