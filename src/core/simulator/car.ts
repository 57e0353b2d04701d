/** State of the stand-in vehicle from step to step, and what of it needs no driver: its air, its learned trims, its lambda sensors. */
import type { Vehicle } from '../vehicle/document.ts';
import { trueVePct } from './truth.ts';

/** Length of a step, s. */
export const DT = 0.01;

/** State that the loop carries along. */
export class Car {
	rpm: number;
	speedKmh = 0;
	gear = 0;
	pedal = 0;
	tps = 0;
	mapKpa: number;
	iatC: number;
	ectC = 84;
	stft = [0, 0];
	ltft = [0, 0];
	retard = 0;
	lambda = [1, 1];
	sensed = [1, 1];
	/** Recent true lambda per bank for the transport delay. */
	readonly delay: [Float64Array, Float64Array] = [
		new Float64Array(128).fill(1),
		new Float64Array(128).fill(1)
	];
	head = 0;
	sinceKnockS = 10;
	constructor(idleRpm: number, baroKpa: number, ambientC: number) {
		this.rpm = idleRpm;
		this.mapKpa = baroKpa * 0.36;
		this.iatC = ambientC + 6;
	}
}

/** Air that a cylinder takes in a cycle, g. */
export function airOf(car: Car, vehicle: Vehicle, shape: number, cylinderL: number): number {
	const ve = trueVePct(vehicle, shape, car.rpm, car.mapKpa);
	return ((ve / 100) * car.mapKpa * cylinderL * 1000) / (287.05 * (car.iatC + 273.15));
}

/** The learned trim as this vehicle's controller applies it. */
export function learnedAtLoad(vehicle: Vehicle, loaded: boolean, ltftPct: number): number {
	const rule = vehicle.controller?.learnedTrimAtFullLoad ?? 'applied';
	if (!loaded || rule === 'applied') return ltftPct;
	return rule === 'positive-only' ? Math.max(0, ltftPct) : 0;
}

/** Transport delay by exhaust flow, then the sensor's own first-order lag. */
export function measureLambda(car: Car, flowGs: number, litres: number, revLimit: number): void {
	const full = (litres * revLimit * 1.15 * 1.6) / 120;
	const transport = clamp(0.03 + 0.012 / Math.max(0.02, flowGs / full), 0.03, 0.5);
	car.head = (car.head + 1) % 128;
	for (let b = 0; b < 2; b++) {
		const ring = car.delay[b]!;
		ring[car.head] = car.lambda[b]!;
		const back = Math.min(127, Math.round(transport / DT));
		const arrived = Math.min(2.5, ring[(car.head - back + 128) % 128]!);
		car.sensed[b]! += (arrived - car.sensed[b]!) * (DT / 0.06);
	}
}

export function clamp(v: number, low: number, high: number): number {
	return Math.min(high, Math.max(low, v));
}
