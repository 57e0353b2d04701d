/** Which gears to drive a pull in, and how fast the road goes by at the limiter. */
import type { Vehicle } from '../vehicle/document.ts';

/**
 * Road speed in km/h at an engine speed, without slip.
 * @param ratio gear ratio (engine turns per gearbox output turn) @param circumferenceM rolling circumference of the driven tyre
 */
export function roadSpeedKmh(rpm: number, ratio: number, finalDrive: number, circumferenceM: number): number {
	return ((rpm / 60) * circumferenceM * 3.6) / (ratio * finalDrive);
}

/** How many gears of full throttle a gearbox is asked for: two of four, three of six and of eight (common practice). */
export function fullThrottleGears(gears: number): number {
	if (gears <= 1) return gears;
	return gears < 6 ? 2 : 3;
}

export interface GearLine {
	gear: number;
	/** Road speed at the rev limit; `null` when final drive or tyre aren't known. */
	limiterKmh: number | null;
	/** Engine speed at which the speed cap is reached, when that is before the limiter. */
	cappedRpm: number | null;
}

export interface GearAdvice {
	lines: GearLine[];
	/** Gears to pull in, the first to do first; empty when the gearbox isn't known. */
	pulls: number[];
	/** The gear that is worth most; `null` when unknown. */
	recommended: number | null;
	/** What the tuner should know of the choice, in one sentence; empty when nothing. */
	remark: string;
}

/** First and second run through the revs too fast and spin the tyres (common practice). */
const FIRST_USEFUL_GEAR = 3;
/** Below this share of the limit a pull that the cap ends early shows too little of the map. */
const WORTHWHILE_SHARE = 0.8;

/** The gears for full throttle under a speed cap in km/h (`null`: no cap). */
export function adviseGears(vehicle: Vehicle, capKmh: number | null): GearAdvice {
	const { gears = [], finalDrive, tyreCircumferenceM } = vehicle.transmission ?? {};
	const limit = vehicle.engine.revLimitRpm;
	const lines = gears.map((ratio, i): GearLine => {
		if (!finalDrive || !tyreCircumferenceM) return { gear: i + 1, limiterKmh: null, cappedRpm: null };
		const limiterKmh = roadSpeedKmh(limit, ratio, finalDrive, tyreCircumferenceM);
		const cappedRpm = capKmh !== null && limiterKmh > capKmh ? (limit * capKmh) / limiterKmh : null;
		return { gear: i + 1, limiterKmh, cappedRpm };
	});
	if (lines.length === 0)
		return {
			lines,
			pulls: [],
			recommended: null,
			remark: 'The gearbox is not known: name the gears yourself.'
		};
	const reach = (l: GearLine) => (l.cappedRpm === null ? 1 : l.cappedRpm / limit);
	const useful = lines.filter((l) => reach(l) >= WORTHWHILE_SHARE && (l.gear > 1 || lines.length === 1));
	const wanted = Math.min(FIRST_USEFUL_GEAR, lines.length);
	const recommended = useful.find((l) => l.gear >= wanted) ?? useful.at(-1) ?? null;
	if (!recommended)
		return {
			lines,
			pulls: [],
			recommended: null,
			remark: 'No gear gets near the limiter below this speed: a closed course or a dyno is needed.'
		};
	const others = useful
		.filter((l) => l !== recommended)
		.sort(
			(a, b) => Math.abs(a.gear - recommended.gear) - Math.abs(b.gear - recommended.gear) || b.gear - a.gear
		);
	const pulls = [recommended, ...others].slice(0, fullThrottleGears(lines.length)).map((l) => l.gear);
	let remark = '';
	if (recommended.gear < wanted)
		remark = `Gear ${wanted} is too fast for this cap; gear ${recommended.gear} loads the engine for a short time only.`;
	else if (pulls.length < fullThrottleGears(lines.length))
		remark = `Only ${pulls.length} of ${fullThrottleGears(lines.length)} gears stay below this speed.`;
	else if (lines[0]!.limiterKmh === null)
		remark = 'Final drive or tyre are not known: the road speeds are not either.';
	return { lines, pulls: pulls.sort((a, b) => a - b), recommended: recommended.gear, remark };
}
