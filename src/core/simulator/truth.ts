/** What the stand-in engine really does: how it breathes, what it stands of timing, how its air meter answers. */
import type { Vehicle } from '../vehicle/document.ts';

/** True volumetric efficiency in percent. `seed` shapes the engine a little, so that no two are alike. */
export function trueVePct(vehicle: Vehicle, seed: number, rpm: number, mapKpa: number): number {
	const top = vehicle.engine.revLimitRpm;
	const peak = top * (0.56 + 0.08 * Math.sin(seed));
	const width = top * 0.42;
	const hill = Math.exp(-(((rpm - peak) / width) ** 2));
	const low = Math.exp(-mapKpa / 45);
	const ripple = 1.5 * Math.sin(rpm / 700 + seed);
	const blown = vehicle.engine.aspiration === 'na' ? 0 : 4 * Math.min(1, Math.max(0, (mapKpa - 100) / 100));
	return 72 + 22 * hill - 18 * low + ripple + blown;
}

/** Timing (°BTDC) at which the engine begins to knock. */
export function knockLimitDeg(
	vehicle: Vehicle,
	octaneRon: number,
	rpm: number,
	airmassPerLitre: number,
	iatC: number,
	lambda: number
): number {
	const compression = vehicle.engine.compressionRatio ?? 10;
	return (
		44 -
		15 * airmassPerLitre +
		4 * (rpm / 6000) +
		0.55 * (octaneRon - 98) -
		0.18 * Math.max(0, iatC - 35) -
		1.2 * (compression - 9.5) +
		30 * Math.max(0, 0.9 - lambda) -
		25 * Math.max(0, lambda - 0.95)
	);
}

/** Frequency of the stand-in's air meter at an air flow in g/s; `maf.curve` has to undo it. */
export function mafHz(flowGs: number): number {
	return 1200 + 480 * Math.sqrt(Math.max(0, flowGs));
}

/** Inverse of `mafHz`, for making calibrations. */
export function flowOfMafHz(hz: number): number {
	return Math.max(0, (hz - 1200) / 480) ** 2;
}

/**
 * Torque at a timing over the most that any timing gives: falls with the square of the distance, about 5 % at 10° (the usual form of
 * engine models; the number from memory).
 */
export function torqueShare(sparkDeg: number, topDeg: number): number {
	return 1 - 0.0005 * (sparkDeg - topDeg) ** 2;
}

/** Level of a knock monitor, 0 to 100, by how far the timing stands over the limit: it rises within the last degree, 50 at the limit. */
export function monitorLevel(overDeg: number, noise: number): number {
	return Math.min(100, Math.max(0, 8 + 1.5 * noise + 42 * Math.min(2, Math.max(0, 1 + overDeg))));
}
