/** How much faster the engine turns than the road speed and the gear allow: wheelspin, or a slipping clutch. */
import type { Segment } from './kinds.ts';
import type { Frame } from '../../logfile/frame.ts';
import { quantileInPlace, runningMedian } from '../../stats/stats.ts';
import type { Vehicle } from '../../vehicle/document.ts';
import { gearRatios } from '../../vehicle/facts.ts';

const SMOOTH_S = 0.15;
const LEAST_SAMPLES = 20;

/**
 * Slip in percent per sample of a pull, NaN elsewhere; `null` when road speed or gear aren't known. The ratio of a gear is what the log
 * itself shows in it outside of pulls, else what the vehicle states: tyres grow, and speed sensors are off by a constant.
 */
export function slipOf(
	frame: Frame,
	pulls: readonly Segment[],
	gear: Int8Array | null,
	vehicle: Vehicle
): Float32Array | null {
	const rpm = frame.get('rpm');
	const speed = frame.get('speed');
	const stated = gearRatios(vehicle);
	if (!rpm || !speed || !gear) return null;
	const gearOf = (pull: Segment) => pull.gear ?? 0;
	const inPull = new Uint8Array(frame.length);
	for (const p of pulls) inPull.fill(gearOf(p), p.from, p.to + 1);
	const own = new Float64Array(frame.length);
	const ratioOf = (g: number): number => {
		let n = 0;
		for (let i = 0; i < frame.length; i++)
			if (gear[i] === g && !inPull[i] && speed[i]! > 15 && rpm[i]! > 1000) own[n++] = rpm[i]! / speed[i]!;
		return n >= LEAST_SAMPLES ? quantileInPlace(own.subarray(0, n), 0.5) : (stated?.[g - 1] ?? Number.NaN);
	};
	const ratios = new Map([...new Set(pulls.map(gearOf))].map((g) => [g, g > 0 ? ratioOf(g) : Number.NaN]));
	if (![...ratios.values()].some((r) => r > 0)) return null;
	const width = Math.max(3, 2 * Math.floor(SMOOTH_S / frame.stepS / 2) + 1);
	const raw = new Float32Array(frame.length).fill(Number.NaN);
	for (const pull of pulls) {
		const ratio = ratios.get(gearOf(pull))!;
		for (let i = pull.from; i <= pull.to; i++)
			if (speed[i]! > 15) raw[i] = 100 * (rpm[i]! / speed[i]! / ratio - 1);
	}
	return runningMedian(raw, width, pulls);
}
