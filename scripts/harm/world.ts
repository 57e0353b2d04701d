/** A world in which the loop is tried: a vehicle, a base that is wrong, what is hidden in the car; and the truth of it under load. */
import { parseCalibration, type Calibration, type FuelModel } from '../../src/core/calibration/document.ts';
import { baseCalibration } from '../../src/core/simulator/base-calibration.ts';
import { standardDrive } from '../../src/core/simulator/drive.ts';
import type { Faults } from '../../src/core/simulator/faults.ts';
import { simulate, type SimLog } from '../../src/core/simulator/simulate.ts';
import { Rng } from '../../src/core/stats/rng.ts';
import { inOtherUnits } from '../../src/core/testing/other-units.ts';
import { bankCount, type Vehicle } from '../../src/core/vehicle/document.ts';
import { VEHICLES } from '../demo/vehicles.ts';
import { WRONGS, type Wrong } from './wrongs.ts';

/** Most that a base is wrong by, share. */
export const BASE_WRONG = 0.12;
export const PLACE_RPM = 500;
export const PLACE_KPA = 20;
const LEAST_SAMPLES = 6;
const WITH_INSTRUMENT = 0.6;
/** Share of the files that have trims by cylinder. */
const WITH_TRIMS = 0.5;
const TWO_WRONGS = 0.4;
const MODELS: FuelModel[] = ['speed-density', 'pulse-width', 'maf'];
const RATE_HZ = 20;
/** Samples at 20 Hz: how long it is at full load before it is settled, and how much later a sensor shows what burnt. */
const SETTLED = 8;
const SENSOR_LATE = 3;

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

/** The controller's own sensors, and an instrument beside them or not. */
function seen(v: Vehicle, instrument: boolean): Vehicle {
	const banks = bankCount(v);
	const own = Array.from({ length: banks }, (_, b) => ({
		channel: `lambda.b${b + 1}`,
		kind: 'factory' as const,
		site: `bank${b + 1}`,
		pressureCompensated: true
	}));
	const reference = {
		channel: 'lambda.ref',
		kind: 'independent' as const,
		site: banks === 2 ? 'collector' : 'bank1'
	};
	return { ...v, sensors: { ...v.sensors, lambda: instrument ? [...own, reference] : own } };
}

export function worldOf(seed: number): World {
	const rng = new Rng(seed * 7919 + 13);
	const pick = <T>(list: readonly T[]): T => list[Math.floor(rng.next() * list.length)]!;
	const vehicle = seen(pick(Object.values(VEHICLES)), rng.next() < WITH_INSTRUMENT);
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

/** Mean lambda over target, percent, and highest knock, °. */
export interface Truth {
	pct: number;
	knock: number;
}

/** By bank or cylinder and place while loaded, as it truly is: what a sensor that doesn't lie would see of what burns. */
export function truthOf({ vehicle, faults, seed }: World, calibration: Calibration): Map<string, Truth> {
	const { bankSensor: _, factoryDriftRich: __, falseKnockPerS: ___, deadCylinder: ____, ...real } = faults;
	const log = simulate({
		vehicle,
		calibration,
		drive: driveOf(vehicle),
		faults: real,
		seed: seed + 5000,
		rateHz: RATE_HZ
	});
	const at = (id: string) => log.channels.get(id);
	const [rpm, map, pedal, goal, retard] = ['rpm', 'map', 'pedal', 'lambda.target', 'knockRetard'].map((id) =>
		at(id)!
	);
	const banks = Array.from(
		{ length: bankCount(vehicle) },
		(_, b) => [`bank ${b + 1}`, `lambda.b${b + 1}`] as const
	);
	const cylinders = Array.from(
		{ length: vehicle.engine.cylinders },
		(_, k) => [`cylinder ${k + 1}`, `lambda.cyl${k + 1}`] as const
	);
	const witnesses = [...banks, ...cylinders].flatMap(([name, id]) => {
		const values = at(id);
		return values ? [{ name, values }] : [];
	});
	const sums = new Map<string, { sum: number; n: number; knock: number }>();
	for (let i = SETTLED; i < log.timeS.length - SENSOR_LATE; i++) {
		if (!(pedal![i]! > 90) || !(pedal![i - SETTLED]! > 90) || !(rpm![i]! > 1500)) continue;
		const place = `${Math.floor(rpm![i]! / PLACE_RPM) * PLACE_RPM} rpm, ${Math.floor(map![i]! / PLACE_KPA) * PLACE_KPA} kPa`;
		for (const { name, values } of witnesses) {
			const key = `${name}, ${place}`;
			let there = sums.get(key);
			if (!there) sums.set(key, (there = { sum: 0, n: 0, knock: 0 }));
			there.sum += values[i + SENSOR_LATE]! / goal![i]! - 1;
			there.n++;
			there.knock = Math.max(there.knock, retard![i]!);
		}
	}
	return new Map(
		[...sums].flatMap(([key, p]) =>
			p.n >= LEAST_SAMPLES ? [[key, { pct: (100 * p.sum) / p.n, knock: p.knock }] as const] : []
		)
	);
}
