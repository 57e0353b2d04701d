/** How much faster the engine turns than the road speed and the gear allow: wheelspin, or a slipping clutch. */
import type { Frame } from '../logfile/frame.ts';
import { runningMedian, median } from '../stats/stats.ts';
import type { Vehicle } from '../vehicle.ts';
import { gearRatios } from './gears.ts';
import type { Segments } from './segments.ts';

const SMOOTH_S = 0.15;
const LEAST_SAMPLES = 20;

/**
 * Slip in percent per sample of a pull, NaN elsewhere; `null` when road speed or gear aren't known. The ratio of a gear is what the log
 * itself shows in it outside of pulls, else what the vehicle states: tyres grow, and speed sensors are off by a constant.
 */
export function slipOf(frame: Frame, segments: Segments, vehicle: Vehicle): Float32Array | null {
	const rpm = frame.get('rpm');
	const speed = frame.get('speed');
	const { gear } = segments;
	const stated = gearRatios(vehicle);
	if (!rpm || !speed || !gear) return null;
	const inPull = new Int8Array(frame.length);
	for (const p of segments.pulls) inPull.fill(p.gear ?? 0, p.from, p.to + 1);
	const seen = new Map<number, number[]>();
	for (let i = 0; i < frame.length; i++) {
		const g = gear[i]!;
		if (g <= 0 || inPull[i] || !(speed[i]! > 15) || !(rpm[i]! > 1000)) continue;
		const list = seen.get(g);
		if (list) list.push(rpm[i]! / speed[i]!);
		else seen.set(g, [rpm[i]! / speed[i]!]);
	}
	const ratioOf = (g: number): number => {
		const own = seen.get(g) ?? [];
		return own.length >= LEAST_SAMPLES ? median(own) : (stated?.[g - 1] ?? Number.NaN);
	};
	const ratios = new Map([...new Set(segments.pulls.map((p) => p.gear ?? 0))].map((g) => [g, ratioOf(g)]));
	if (![...ratios.values()].some((r) => r > 0)) return null;
	const width = Math.max(3, 2 * Math.floor(SMOOTH_S / frame.stepS / 2) + 1);
	const raw = new Float32Array(frame.length).fill(Number.NaN);
	for (let i = 0; i < raw.length; i++)
		if (inPull[i] && speed[i]! > 15) raw[i] = 100 * (rpm[i]! / speed[i]! / ratios.get(inPull[i]!)! - 1);
	return runningMedian(raw, width);
}
