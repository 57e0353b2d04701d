/** What a stand-in engine truly does under load with a calibration: its mixture and its knock, place by place, and whether it was hurt by a change. */
import type { Calibration } from '../calibration/document.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { bankCount } from '../vehicle/facts.ts';
import { standardDrive } from './drive.ts';
import type { Faults } from './faults.ts';
import { simulate } from './simulate.ts';

export const PLACE_RPM = 500;
export const PLACE_KPA = 20;
const LEAST_SAMPLES = 6;
const RATE_HZ = 20;
/** Samples at 20 Hz: how long it is at full load before it is settled, and how much later a sensor shows what burnt. */
const SETTLED = 8;
const SENSOR_LATE = 3;
/** The truth is driven on another day than the log. */
const ANOTHER_DAY = 5000;

/** Mean lambda over target, percent, and highest knock, °. */
export interface Truth {
	pct: number;
	knock: number;
}

/** By bank or cylinder and place: "bank 1, 4000 rpm, 140 kPa". */
export type Truths = ReadonlyMap<string, Truth>;

/** By bank or cylinder and place while loaded, as it truly is: what a sensor that doesn't lie would see of what burns. */
export function truthUnderLoad(
	{ vehicle, faults, seed }: { vehicle: Vehicle; faults: Faults; seed: number },
	calibration: Calibration
): Map<string, Truth> {
	const {
		bankSensor: _,
		factoryDriftRich: __,
		factoryDriftAt: ___,
		falseKnockPerS: ____,
		deadCylinder: _____,
		...real
	} = faults;
	const log = simulate({
		vehicle,
		calibration,
		drive: standardDrive(vehicle.transmission?.gears?.length ?? 5, vehicle.engine.revLimitRpm),
		faults: real,
		seed: seed + ANOTHER_DAY,
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

/** Harm: leaner by more than this and then leaner than its target by more than that, or so much more real knock. Own choices. */
export const LEANER_POINTS = 1.5;
export const LEAN_PCT = 3;
export const MORE_KNOCK_DEG = 1;

export interface HurtPlace {
	place: string;
	was: Truth;
	now: Truth;
}

/** Places that a change has hurt, the worst first: leaner and lean, or knocking more. */
export function hurtPlaces(before: Truths, after: Truths): HurtPlace[] {
	const size = ({ was, now }: HurtPlace) =>
		Math.max((now.pct - was.pct) / LEANER_POINTS, now.knock - was.knock);
	return [...after]
		.flatMap(([place, now]): HurtPlace[] => {
			const was = before.get(place);
			if (!was) return [];
			const leaner = now.pct - was.pct > LEANER_POINTS && now.pct > LEAN_PCT;
			return leaner || now.knock - was.knock > MORE_KNOCK_DEG ? [{ place, was, now }] : [];
		})
		.sort((a, b) => size(b) - size(a));
}
