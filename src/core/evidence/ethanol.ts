/** The blend that a log tells of: only where a sensor measured it. */
import { median } from '../stats/stats.ts';
import type { Prepared } from './prepared.ts';

/** Points of ethanol within which a fuel counts as the same. Common practice. */
export const SAME_FUEL_POINTS = 5;

/** What a controller infers from its trims follows every error of the fuel table: it is no witness of the blend. */
export function measuredEthanol({
	frame,
	vehicle
}: Pick<Prepared, 'frame' | 'vehicle'>): Float32Array | null {
	return vehicle.fuel?.ethanolSource === 'inferred' ? null : frame.get('ethanol');
}

/** Percent of ethanol in the tank: the middle of what was measured, else what the vehicle says; null where neither does. */
export function ethanolPctOf(input: Pick<Prepared, 'frame' | 'vehicle'>): number | null {
	const measured = measuredEthanol(input);
	const middle = measured ? median(measured) : Number.NaN;
	return Number.isFinite(middle) ? middle : (input.vehicle.fuel?.ethanolPct ?? null);
}
