/** What follows from a vehicle's sheet. Apart from the document's schema, which a page that only asks for the banks doesn't load. */
import type { RecogniseContext } from '../channels/reading.ts';
import { STOICH_PETROL, stoichOfBlend } from '../units/fuel.ts';
import type { Vehicle } from './document.ts';

export const STANDARD_PRESSURE_KPA = 101.325;

/** Stoichiometric AFR of the fuel: as stated, else of the stated ethanol blend, else of petrol. */
export function fuelStoich(vehicle: Vehicle): number {
	const { stoich, ethanolPct } = vehicle.fuel ?? {};
	return stoich ?? (ethanolPct !== undefined ? stoichOfBlend(ethanolPct) : STOICH_PETROL);
}

export function gaugeStoich(vehicle: Vehicle): number {
	return vehicle.sensors?.gaugeStoich ?? STOICH_PETROL;
}

/** What a vehicle tells about the readings of its logs. */
export function readContextOf(vehicle: Vehicle): RecogniseContext {
	return {
		gaugeStoich: gaugeStoich(vehicle),
		baroKpa: assumedBaroKpa(vehicle),
		displacementL: vehicle.engine.displacementL,
		rpmPerKmh: gearRatios(vehicle) ?? undefined
	};
}

/** Engine speed over road speed (rpm per km/h) of each gear, when the vehicle states its gearbox. */
export function gearRatios(vehicle: Vehicle): number[] | null {
	const { gears, finalDrive, tyreCircumferenceM } = vehicle.transmission ?? {};
	if (!gears?.length || !finalDrive || !tyreCircumferenceM) return null;
	return gears.map((g) => (1000 / 60 / tyreCircumferenceM) * g * finalDrive);
}

/** Barometer that stands in when the log has none. */
export function assumedBaroKpa(vehicle: Vehicle): number {
	return vehicle.baselines?.ambientPressureKpa ?? STANDARD_PRESSURE_KPA;
}

/** Number of cylinder banks: as listed, else two for V and flat engines. */
export function bankCount(vehicle: Vehicle): 1 | 2 {
	const { banks, layout } = vehicle.engine;
	if (banks) return banks.length === 2 ? 2 : 1;
	return layout === 'v' || layout === 'flat' ? 2 : 1;
}

/** Cylinders of each bank; `null` where the engine has two and nobody said which are which. */
export function cylindersByBank(vehicle: Vehicle): readonly (readonly number[])[] | null {
	const { banks, cylinders } = vehicle.engine;
	if (banks) return banks;
	return bankCount(vehicle) === 1 ? [Array.from({ length: cylinders }, (_, i) => i + 1)] : null;
}
