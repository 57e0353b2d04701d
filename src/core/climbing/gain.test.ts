/** Gain by the road on hand-made pulls whose power is worked out beside it, and what earlier rungs bind. */
import { describe, expect, it } from 'vitest';
import type { Calibration } from '../calibration/document.ts';
import { findMap } from '../calibration/lookup.ts';
import { prepare } from '../evidence/prepare.ts';
import { parseGoal } from '../fuelling/goal.ts';
import { airDensity, effectiveMass, roadPowerW } from '../performance/road-power.ts';
import { withChanges } from '../revising/changes.ts';
import { screenPrepared } from '../screening/screen.ts';
import { handMade, vehicleWith, type Shape, calibrationWith } from '../testing/hand-made.ts';
import type { EarlierRung, LadderCase } from './case.ts';
import { gainByRoad } from './gain.ts';
import { ladderOf } from './ladder.ts';

const RPM = [1000, 2000, 3000, 4000, 5000, 6000, 7000];
const KPA = [40, 80, 120, 160, 200];
const GEARS = [3.5, 2.1, 1.4, 1, 0.8];
const FINAL = 3.9;
const TYRE_M = 1.95;
const GEAR = 3;
const vehicle = vehicleWith(
	{ displacementL: 2 },
	{
		massKg: 1500,
		dragAreaM2: 0.7,
		transmission: { type: 'manual', gears: GEARS, finalDrive: FINAL, tyreCircumferenceM: TYRE_M },
		fuel: { ethanolPct: 0 },
		injectors: {
			flowCcMin: 1000,
			ratedPressureKpa: 300,
			basePressureKpa: 300,
			injectionsPerCycle: 1,
			pressureReference: 'manifold',
			deadTimeMs: [
				[12, 1],
				[14, 0.8]
			]
		}
	}
);
const perKmh = (GEARS[GEAR - 1]! * FINAL * 1000) / 60 / TYRE_M;
/** Timing by engine speed, of a table and of its logs; 0 at 4000 rpm beyond `deg`. */
const timing = (deg: number, rpm: number) => deg + (rpm - 4000) / 1250;
const map = (id: string, value: (kpa: number, rpm: number) => number, decimals = 1) => ({
	id,
	kind: 'map',
	decimals,
	x: { channel: 'rpm', points: RPM },
	y: { channel: 'map', unit: 'kPa', points: KPA },
	values: KPA.map((k) => RPM.map((r) => value(k, r)))
});
const calibration = (deg: number, targetKpa = 140): Calibration =>
	calibrationWith(
		[
			map('fuel.table', () => 80),
			map('spark.table', (_, r) => timing(deg, r), 2),
			map('lambda.target', (k) => (k > 100 ? 0.8 : 1), 3),
			{
				id: 'boost.target',
				kind: 'curve',
				x: { channel: 'rpm', points: RPM },
				values: RPM.map(() => targetKpa)
			},
			{ id: 'limit.boost', kind: 'scalar', value: 155 },
			{ id: 'spark.baseVerified', kind: 'setting', value: 'timing light' },
			{ id: 'knock.enabled', kind: 'setting', value: true }
		],
		{ name: `timing ${deg}` }
	);

const PULLS = [20, 50, 80];
const PULL_S = 10;
const FROM_RPM = 3000;
/** Engine speed gained in a second at the lowest timing. */
const RATE = 300;
const inPull = (t: number) => PULLS.some((p) => t >= p && t < p + PULL_S);
/** `more` is a share of the rate, `jitter` of it from pull to pull. */
function rung(
	deg: number,
	more: number,
	{ jitter = 0.004, seed = 0, log = {} as Record<string, Shape>, ambientC = 20 } = {}
): EarlierRung {
	const rpm: Shape = (t) => {
		const n = PULLS.findLastIndex((p) => t >= p);
		if (n < 0) return FROM_RPM;
		const rate = RATE * (1 + more) * (1 + jitter * Math.sin(7 * n + 3 * deg + seed));
		const since = t - PULLS[n]!;
		// Up for the pull, then as slowly down again.
		return FROM_RPM + rate * Math.max(0, Math.min(since, 2 * PULL_S - since));
	};
	const c = calibration(deg);
	const input = prepare(
		handMade(110, 20, {
			rpm,
			speed: (t) => rpm(t) / perKmh,
			map: (t) => (inPull(t) ? 140 : 45),
			boostTarget: (t) => (inPull(t) ? 140 : 100),
			baro: () => 100,
			tps: (t) => (inPull(t) ? 100 : 18),
			pedal: (t) => (inPull(t) ? 100 : 18),
			ect: () => 88,
			iat: () => 35,
			ambientTemp: () => ambientC,
			vbat: () => 14,
			'lambda.target': (t) => (inPull(t) ? 0.8 : 1),
			'lambda.b1': (t) => (inPull(t) ? 0.8 : 1) * (1 + 0.003 * Math.sin(rpm(t) / 400)),
			knockRetard: () => 0,
			spark: (t) => timing(deg, rpm(t)),
			'pw.b1': (t) => (inPull(t) ? 7 : 3),
			fuelPressure: (t) => 300 + (inPull(t) ? 140 : 45) - 100 + Math.sin(t * 5),
			...log
		}),
		{ vehicle, calibrations: [c] }
	);
	return { calibration: c, logs: [{ input, report: screenPrepared(input) }] };
}
const goal = parseGoal({ schema: 'tanto.goal/1', boostKpa: [[1000, 140]], timingCeilingDeg: 25 });
const caseOf = (rungs: EarlierRung[], ceiling = 25): LadderCase => ({
	...rungs.at(-1)!,
	earlier: rungs.slice(0, -1),
	vehicle,
	goal: { ...goal, timingCeilingDeg: ceiling }
});

/** Power at the road of a steady rate, W: the formula with its numbers put in. */
function powerW(rate: number, rpm: number): number {
	const a = rate / perKmh / 3.6;
	return roadPowerW(
		{ massKg: 1500, dragAreaM2: 0.7, airDensityKgM3: airDensity(20, 100) },
		effectiveMass(1500, GEARS[GEAR - 1]! * FINAL),
		a,
		rpm / perKmh / 3.6
	);
}

describe('gain by the road', () => {
	it('is the power that the pulls gained, per degree', () => {
		const rungs = [0, 1, 2, 3].map((n) => rung(10 + n, 0.02 * n));
		const g = gainByRoad(rungs)!;
		expect(g).toMatchObject({ rungs: 4, pulls: 12 });
		// Over the whole range: what three degrees gained, by a third.
		const speeds = [3500, 4000, 4500, 5000, 5500];
		const byHand =
			speeds.reduce((s, r) => s + Math.log(powerW(RATE * 1.06, r) / powerW(RATE, r)), 0) / speeds.length / 3;
		expect(g.perDegPct).toBeCloseTo(100 * byHand, 0);
		expect(Math.abs(g.perDegPct - 100 * byHand)).toBeLessThan(2.5 * g.sePct + 0.05);
		expect(g.upperPct).toBeGreaterThan(g.perDegPct);
		expect(g.lowest.name).toBe('timing 10');
	});
	it('says nothing of two rungs, of other boost, or of no speed', () => {
		expect(gainByRoad([rung(10, 0), rung(11, 0.02)])).toBeNull();
		const other = [0, 1, 2].map((n) => rung(10 + n, 0));
		other[0] = { ...other[0]!, calibration: calibration(10, 120) };
		expect(gainByRoad(other)).toBeNull();
		expect(gainByRoad([0, 1, 2].map((n) => rung(10 + n, 0, { log: { speed: () => 0 } })))).toBeNull();
	});
	it('ends the climb where even its bound is next to nothing, back to the lower timing', () => {
		const a = ladderOf(caseOf([0, 1, 2, 3].map((n) => rung(10 + n, 0, { jitter: 0.002 }))));
		expect(a.end!.reason).toContain('gives nothing');
		expect(a.rung.from! - a.rung.to!).toBeCloseTo(3, 6);
		const spark = findMap(withChanges(calibration(13), a.changes), 'spark.table')!;
		expect(spark.values).toEqual(findMap(calibration(10), 'spark.table')!.values);
		// Back there it stays: what was learned isn't forgotten.
		const again = ladderOf(
			caseOf([0, 1, 2, 3, 0].map((n, i) => rung(10 + n, 0, { jitter: 0.002, seed: i })))
		);
		expect(again).toMatchObject({ rung: { kind: 'done' }, changes: [] });
	});
	it('lets it go on where it gives something', () => {
		const a = ladderOf(caseOf([0, 1, 2, 3].map((n) => rung(10 + n, 0.02 * n))));
		expect(a).toMatchObject({ end: null, rung: { kind: 'timing' } });
		expect(a.rung.to! - a.rung.from!).toBeCloseTo(1, 6);
	});
});

describe('what earlier rungs saw', () => {
	const high = (t: number) => {
		const n = PULLS.findLastIndex((p) => t >= p);
		return inPull(t) && t - PULLS[n]! > 7;
	};
	const pulled: Record<string, Shape> = { knockMonitor: (t) => (high(t) ? 40 : 0) };
	it('binds on the same fuel: nothing goes within 2° of timing that was pulled', () => {
		const rungs = [rung(12, 0.04, { log: pulled }), rung(10, 0)];
		const cells = ladderOf(caseOf(rungs)).changes.flatMap((ch) => ch.cells);
		expect(cells.length).toBeGreaterThan(0);
		expect(cells.filter((x) => x.x === 5000 || x.x === 6000)).toEqual([]);
		const free = ladderOf(caseOf([rung(10, 0)])).changes.flatMap((ch) => ch.cells);
		expect(free.some((x) => x.x === 5000)).toBe(true);
	});
	it('doesn’t bind on a fuel with more ethanol', () => {
		const [then, now] = [rung(12, 0.04, { log: pulled }), rung(10, 0)];
		const e70: LadderCase = {
			...caseOf([then, now]),
			logs: now.logs.map((l) => ({
				...l,
				input: { ...l.input, vehicle: { ...vehicle, fuel: { ethanolPct: 70 } } }
			}))
		};
		expect(
			ladderOf(e70)
				.changes.flatMap((ch) => ch.cells)
				.some((x) => x.x === 5000)
		).toBe(true);
	});
	it('keeps 2° in hand at the end where it began to be pulled, but on a day as hot as the season has', () => {
		const faint: Record<string, Shape> = { knockRetard: (t) => (high(t) ? 0.6 : 0) };
		const cool = ladderOf(caseOf([rung(12, 0, { log: faint })], 12));
		expect(cool.end!.reason).toContain('where it began to be pulled');
		const spark = findMap(withChanges(calibration(12), cool.changes), 'spark.table')!;
		// Pulled from 5100 rpm on, between the cells of 5000 and 6000: around them it comes out as well.
		const row = spark.values[KPA.indexOf(160)]!;
		expect([3000, 4000, 5000, 6000].map((r) => row[RPM.indexOf(r)]! - timing(12, r))).toEqual(
			[0, -2, -2, -2].map((v) => expect.closeTo(v, 6))
		);
		expect(cool.proven).toMatchObject({ ethanolPct: 0, iatC: 35, ambientC: 20, baroKpa: 100, hot: false });
		const hot = ladderOf(caseOf([rung(12, 0, { log: faint, ambientC: 33 })], 12));
		expect(hot).toMatchObject({ rung: { kind: 'done' }, changes: [], proven: { hot: true } });
	});
	it('keeps nothing in hand for what was pulled while a monitor beside it stayed still', () => {
		const pulledAlone: Record<string, Shape> = {
			knockRetard: (t) => (high(t) ? 0.6 : 0),
			knockMonitor: (t) => (inPull(t) ? 8 : 5)
		};
		expect(ladderOf(caseOf([rung(12, 0, { log: pulledAlone })], 12))).toMatchObject({
			rung: { kind: 'done' },
			changes: []
		});
	});
	it('is at no end behind a closed gate', () => {
		const hot: Record<string, Shape> = {
			knockRetard: (t) => (high(t) ? 0.6 : 0),
			iat: (t) => (inPull(t) ? 95 : 40)
		};
		const a = ladderOf(caseOf([rung(12, 0, { log: hot })], 12));
		expect(a.gates.filter((g) => !g.open).map((g) => g.id)).toContain('intake');
		expect(a).toMatchObject({ rung: { kind: 'timing', from: null }, changes: [], end: null });
	});
	it('what each step reached and brought stands with it', () => {
		const [before, now] = ladderOf(caseOf([rung(10, 0, { jitter: 0 }), rung(11, 0.02, { jitter: 0 })])).steps;
		expect(before).toMatchObject({ boostKpa: 140, knockDeg: 0, power: null });
		expect(now).toMatchObject({ boostKpa: 140, knockDeg: 0 });
		expect(now!.timingDeg! - before!.timingDeg!).toBeCloseTo(1, 1);
		expect(Math.abs(now!.mixture!.middlePct)).toBeLessThan(0.3);
		const speeds = [3500, 4000, 4500, 5000, 5500];
		const byHand = Math.exp(
			speeds.reduce((sum, r) => sum + Math.log(powerW(RATE * 1.02, r) / powerW(RATE, r)), 0) / speeds.length
		);
		expect(now!.power!.morePct).toBeCloseTo(100 * (byHand - 1), 0);
		expect(now!.power!.sePct).toBeLessThan(0.5);
		expect(ladderOf(caseOf([rung(10, 0)])).steps).toHaveLength(1);
	});
});
