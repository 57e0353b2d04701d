/** What the stand-in's sensors show of its state: noise, rounding, and the channels that this vehicle has. */
import { fixed } from '../format.ts';
import type { Rng } from '../stats/rng.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { clamp, type Car } from './car.ts';
import type { Command } from './controller.ts';

/** A row of the log: canonical id → value. */
export function reading(
	car: Car,
	command: Pick<Command, 'pulseMs' | 'lambdaTarget' | 'sparkDeg' | 'boostKpa' | 'modelGs'>,
	pulses: number[],
	flowGs: number,
	banks: number,
	/** What the own sensor of each bank shows of the truth. */
	shown: readonly number[],
	vehicle: Vehicle,
	baro: number,
	ambient: number,
	rng: Rng,
	hz: number
): Record<string, number> {
	const noisy = (v: number, sd: number, decimals: number) => Number(fixed(v + rng.normal() * sd, decimals));
	const row: Record<string, number> = {
		rpm: noisy(car.rpm, 3, 0),
		map: noisy(car.mapKpa, 0.4, 1),
		baro: noisy(baro, 0.02, 1),
		tps: Number(fixed(clamp(car.tps, 0, 100), 1)),
		pedal: Number(fixed(clamp(car.pedal, 0, 100), 1)),
		speed: noisy(car.speedKmh, 0.05, 1),
		iat: noisy(car.iatC, 0.1, 1),
		ect: noisy(car.ectC, 0.1, 1),
		ambientTemp: ambient
	};
	for (let b = 0; b < banks; b++) {
		row[`lambda.b${b + 1}`] = noisy(car.sensed[b]! * shown[b]!, 0.004, 3);
		row[`stft.b${b + 1}`] = noisy(car.stft[b]!, 0, 1);
		row[`ltft.b${b + 1}`] = noisy(car.ltft[b]!, 0, 1);
		row[`pw.b${b + 1}`] = noisy(pulses[b]!, 0, 3);
	}
	for (const s of vehicle.sensors?.lambda ?? []) {
		if (s.kind !== 'independent') continue;
		const v =
			s.site === 'bank2'
				? car.sensed[1]!
				: s.site === 'collector' && banks === 2
					? (car.sensed[0]! + car.sensed[1]!) / 2
					: car.sensed[0]!;
		row[s.channel] = noisy(v, 0.004, 3);
	}
	row['lambda.target'] = Number(fixed(command.lambdaTarget, 3));
	row['sparkBase'] = Number(fixed(command.sparkDeg, 1));
	row['spark'] = Number(fixed(command.sparkDeg - car.retard, 1));
	row['knockRetard'] = Number(fixed(car.retard, 1));
	// The set point goes with the pedal: at a lift it falls at once, and the pressure a second later.
	const asked = clamp((car.pedal - 20) / 65, 0, 1);
	if (vehicle.engine.aspiration !== 'na')
		row['boostTarget'] = Number(fixed(baro + Math.max(0, command.boostKpa - baro) * asked, 1));
	row['maf'] = noisy(flowGs, flowGs * 0.004, 1);
	row['mafFrequency'] = Math.round(hz);
	if (command.modelGs !== null) row['airflowModel'] = Number(fixed(command.modelGs, 1));
	return row;
}
