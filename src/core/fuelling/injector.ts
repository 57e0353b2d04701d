/** What an injector gives and needs, by the physics of an orifice: volume flow goes with √(pressure / density). */
import { directDutyPct, portDutyPct } from '../evidence/duty.ts';
import { DENSITY_PETROL, densityOfBlend, STOICH_PETROL, stoichOfBlend } from '../units/fuel.ts';
import type { Vehicle } from '../vehicle/document.ts';

/** Supply that a plan reckons with: under load it is lower than at cruise. */
export const SUPPLY_V = 13.5;

/**
 * Volume that an injector really passes of a blend, cm³/min.
 * @param ratedCcMin at its rated pressure and of its test fluid (0.684 kg/l where it is heptane), else of petrol
 * @param overKpa pressure over the injector
 */
export function flowOf(vehicle: Vehicle, ratedCcMin: number, ethanolPct: number, overKpa: number): number {
	const { testFluidKgL = DENSITY_PETROL, ratedPressureKpa } = vehicle.injectors ?? {};
	const pressure = ratedPressureKpa ? overKpa / ratedPressureKpa : 1;
	return ratedCcMin * Math.sqrt(Math.max(0, pressure) * (testFluidKgL / densityOfBlend(ethanolPct)));
}

/** Pressure over the injector at a manifold pressure, kPa. */
export function pressureOver(vehicle: Vehicle, mapKpa: number, baroKpa: number): number {
	const { basePressureKpa, ratedPressureKpa, pressureReference } = vehicle.injectors ?? {};
	const base = basePressureKpa ?? ratedPressureKpa ?? 300;
	return pressureReference === 'atmosphere' ? base - (mapKpa - baroKpa) : base;
}

/** Mass of a blend that burns with the air of 1 kg of petrol at the same lambda. */
export const massFactor = (ethanolPct: number): number => STOICH_PETROL / stoichOfBlend(ethanolPct);

/** Volume of a blend for the air of one litre of petrol at the same lambda: what the pump has to bring. */
export const volumeFactor = (ethanolPct: number): number =>
	(massFactor(ethanolPct) * DENSITY_PETROL) / densityOfBlend(ethanolPct);

/** Duty of a pulse at an engine speed by the kind of injection; `null` where a direct injector's window isn't stated. */
export function dutyOf(vehicle: Vehicle, pulseMs: number, rpm: number): number | null {
	const { injectionsPerCycle = 1, windowDeg } = vehicle.injectors ?? {};
	if (vehicle.engine.injection === 'direct') return windowDeg ? directDutyPct(pulseMs, rpm, windowDeg) : null;
	return portDutyPct(pulseMs, rpm, injectionsPerCycle);
}
