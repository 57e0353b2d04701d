/**
 * What timing gave on the road: power of the pulls over several rungs that differ in timing alone, as percent per degree with its bound.
 * Where even the bound is next to nothing, the engine takes the timing and gives nothing for it (common practice).
 */
import { group, mean as meanOf, mode } from 'd3-array';
import type { Calibration } from '../calibration/document.ts';
import { along } from '../calibration/along.ts';
import { SAME_FUEL_POINTS } from '../evidence/ethanol.ts';
import { fixed, plural } from '../format.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { airDensity, BIN_RPM, pullPower } from '../performance/road-power.ts';
import { ambientOf } from '../evidence/ambient.ts';
import { tQuantile90 } from '../stats/stats.ts';
import type { EarlierRung, LadderCase } from './case.ts';
import { ethanolOf, timingTable } from './past.ts';

/** Below this much for a degree it gives nothing, percent. Common practice. */
export const NOTHING_PCT = 0.3;
/** Rungs of different timing that have to be compared. Common practice. */
const LEAST_RUNGS = 3;
/** Pulls from which a slope has an error of its own. Own choice. */
const LEAST_PULLS = 6;
/** Timings closer than this are one rung, degrees. Own choice. */
const APART_DEG = 0.5;
/** Share of a rung's pulls that have to have run through a speed for it to be compared. Own choice. */
const MOST_OF = 0.7;
const KELVIN = 273.15;

const mean = (v: readonly number[]): number => meanOf(v) ?? Number.NaN;

export interface Gain {
	/** Power per degree, percent; its standard error; and what it is below in nine of ten. */
	perDegPct: number;
	sePct: number;
	upperPct: number;
	rungs: number;
	pulls: number;
	/** The rung of least timing among those compared. */
	lowest: Calibration;
}

/** A pull by 250 rpm: power, the same over the mass of its air, and the timing it had. */
export interface Pull {
	rung: number;
	gear: number;
	byRpm: Map<number, { kw: number; perAir: number; deg: number }>;
}

/**
 * @param rungs the oldest first, the one in the car last
 * @returns `null` where fewer than three rungs of the same boost, target and fuel were driven, or too few pulls have speeds in common
 */
export function gainByRoad(rungs: readonly EarlierRung[]): Gain | null {
	const alike = likeTheLast(rungs);
	const { pulls, speeds } = comparable(alike);
	if (speeds.length === 0 || pulls.length < LEAST_PULLS) return null;
	// A pull is one witness: what its road and its wind did, they did to all of it.
	const deg = pulls.map((p) => mean(speeds.map((r) => p.byRpm.get(r)!.deg)));
	const power = pulls.map((p) => logMean(p, speeds, 'perAir'));
	const levels = alike.map((_, n) => mean(deg.filter((_d, i) => pulls[i]!.rung === n)));
	if (distinct(levels) < LEAST_RUNGS) return null;
	const line = lineThrough(deg, power);
	if (!line) return null;
	const upper = line.slope + tQuantile90(pulls.length - 2) * line.se;
	const lowest = levels.reduce(
		(least, d, n) => (d < levels[least]! ? n : least),
		levels.findIndex(Number.isFinite)
	);
	return {
		perDegPct: 100 * line.slope,
		sePct: 100 * line.se,
		upperPct: 100 * upper,
		rungs: distinct(levels),
		pulls: pulls.length,
		lowest: alike[lowest]!.calibration
	};
}

/** The pulls of one gear, the one driven most, that ran through the speeds most of them ran through. A short one says nothing. */
export function comparable(rungs: readonly EarlierRung[]): { pulls: Pull[]; speeds: number[] } {
	const all = rungs.flatMap((r, n) => r.logs.flatMap((l) => pullsOf(l.input, r.calibration, n)));
	const gear = mode(all, (p) => p.gear);
	const alike = all.filter((p) => p.gear === gear);
	// Of every rung: a slower one doesn't reach as far, and must not be left out for it.
	const byRung = group(alike, (p) => p.rung);
	const covered = (r: number) =>
		[...byRung.values()].every((own) => own.filter((p) => p.byRpm.has(r)).length >= MOST_OF * own.length);
	const speeds = [...new Set(alike.flatMap((p) => [...p.byRpm.keys()]))].filter(covered);
	return { pulls: alike.filter((p) => speeds.every((r) => p.byRpm.has(r))), speeds };
}

/** Mean of the logarithm of what `of` gives, over the speeds. */
export const logMean = (p: Pull, speeds: readonly number[], of: 'kw' | 'perAir'): number =>
	mean(speeds.map((r) => Math.log(p.byRpm.get(r)![of])));

/** The rungs of the list that differ from the last in nothing but timing, on its fuel. */
function likeTheLast(rungs: readonly EarlierRung[]): EarlierRung[] {
	const last = rungs.at(-1);
	if (!last) return [];
	const same = (c: Calibration, id: string) =>
		JSON.stringify(c.items.find((i) => i.id === id)) ===
		JSON.stringify(last.calibration.items.find((i) => i.id === id));
	const fuel = ethanolOf(last.logs);
	return rungs.filter((r) => {
		const then = ethanolOf(r.logs);
		return (
			r.logs.length > 0 &&
			timingTable(r.calibration) !== null &&
			same(r.calibration, 'boost.target') &&
			same(r.calibration, 'lambda.target') &&
			(fuel === null || then === null || Math.abs(fuel - then) <= SAME_FUEL_POINTS)
		);
	});
}

function pullsOf(input: Prepared, c: Calibration, rung: number): Pull[] {
	const { frame, segments, vehicle } = input;
	const rpm = frame.get('rpm');
	const deg = frame.get('spark') ?? along(frame, c, 'spark.table', segments.baroKpa);
	const map = frame.get('map');
	const iat = frame.get('iat');
	const ambientC = ambientOf(input);
	if (!rpm || !deg) return [];
	const density = airDensity(Number.isFinite(ambientC) ? ambientC : 20, segments.baroKpa);
	return segments.pulls.flatMap((pull): Pull[] => {
		const road = pullPower(frame, segments, vehicle, pull, density);
		if ('missing' in road || pull.gear === undefined) return [];
		const sums = road.rpm.map(() => ({ deg: 0, air: 0, n: 0 }));
		for (let i = pull.from; i <= pull.to; i++) {
			const s = sums[Math.floor((rpm[i]! - road.rpm[0]!) / BIN_RPM + 0.5)];
			// Denser air burns more fuel: what is compared is what the timing makes of it.
			const air = (map?.[i] ?? segments.baroKpa) / ((iat?.[i] ?? 20) + KELVIN);
			if (!s || deg[i] !== deg[i] || air !== air) continue;
			s.deg += deg[i]!;
			s.air += air;
			s.n++;
		}
		const byRpm = new Map<number, { kw: number; perAir: number; deg: number }>();
		road.rpm.forEach((r, b) => {
			const { deg: d, air, n } = sums[b]!;
			const kw = road.powerKw[b];
			if (n && kw != null && kw > 0) byRpm.set(r, { kw, perAir: kw / (air / n), deg: d / n });
		});
		return byRpm.size ? [{ rung, gear: pull.gear, byRpm }] : [];
	});
}

/** Least squares, with the standard error of the slope; `null` where all stand at one place. */
function lineThrough(x: readonly number[], y: readonly number[]): { slope: number; se: number } | null {
	const mx = mean(x);
	const my = mean(y);
	let sxx = 0;
	let sxy = 0;
	for (let i = 0; i < x.length; i++) {
		sxx += (x[i]! - mx) ** 2;
		sxy += (x[i]! - mx) * (y[i]! - my);
	}
	if (!(sxx > 0)) return null;
	const slope = sxy / sxx;
	let left = 0;
	for (let i = 0; i < x.length; i++) left += (y[i]! - my - slope * (x[i]! - mx)) ** 2;
	return { slope, se: Math.sqrt(left / (x.length - 2) / sxx) };
}

/** How many timings are apart from each other. */
function distinct(levels: readonly number[]): number {
	let n = 0;
	let last = -Infinity;
	for (const d of levels.filter(Number.isFinite).sort((a, b) => a - b))
		if (d - last >= APART_DEG) {
			n++;
			last = d;
		}
	return n;
}

/** The gain in words: percent of power per degree, with its bound. */
export const gainWords = (g: Gain): string =>
	`${fixed(g.perDegPct, 1)} % of power per degree by the road, below ${fixed(g.upperPct, 1)} % in nine of ten, over ${plural(g.rungs, 'step')} and ${plural(g.pulls, 'pull')}`;

/** All rungs of a case, the one in the car last. */
export const rungsOf = (c: LadderCase): EarlierRung[] => [
	...(c.earlier ?? []),
	{ calibration: c.calibration, logs: c.logs }
];
