/** The ladder on hand-made logs: the order of its rungs, what a rung changes, and every gate closed for its own planted reason. */
import { describe, expect, it } from 'vitest';
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import { findMap } from '../calibration/lookup.ts';
import { prepare } from '../evidence/prepare.ts';
import { parseGoal, type Goal } from '../fuelling/goal.ts';
import { parsePlugs, type Plugs } from '../plugs/document.ts';
import { judgePlugs } from '../plugs/judge.ts';
import { withChanges } from '../revising/changes.ts';
import { screenPrepared } from '../screening/screen.ts';
import { handMade, twoBanks, vehicleWith, type Shape, calibrationWith } from '../testing/hand-made.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { GATE_IDS, type GateId } from './case.ts';
import { ladderOf } from './ladder.ts';

const RPM = [1000, 2000, 3000, 4000, 5000, 6000, 7000];
const KPA = [40, 80, 120, 160, 180, 200, 240];
const map = (id: string, value: (rpm: number, kpa: number) => number, more: object = {}) => ({
	id,
	kind: 'map',
	decimals: 1,
	x: { channel: 'rpm', points: RPM },
	y: { channel: 'map', unit: 'kPa', points: KPA },
	values: KPA.map((k) => RPM.map((r) => value(r, k))),
	...more
});
/** Timing of the table by engine speed, and of the logs as well: 10 to 14°. */
const timing = (rpm: number) => 9 + rpm / 1250;
const calibration = (
	more: { limit?: number; verified?: string; target?: number; spark?: number } = {}
): Calibration =>
	calibrationWith([
		map('fuel.table', () => 80),
		map('spark.table', (r) => timing(r) + (more.spark ?? 0), { decimals: 2 }),
		map('lambda.target', (_, k) => (k > 100 ? 0.8 : 1), { decimals: 3 }),
		{
			id: 'boost.target',
			kind: 'curve',
			x: { channel: 'rpm', points: RPM },
			values: RPM.map(() => more.target ?? 160)
		},
		{ id: 'limit.boost', kind: 'scalar', value: more.limit ?? 190 },
		{ id: 'spark.baseVerified', kind: 'setting', value: more.verified ?? 'timing light, 12 May' },
		{ id: 'knock.enabled', kind: 'setting', value: true }
	]);
const vehicle = (more: object = {}): Vehicle =>
	vehicleWith(
		{ displacementL: 2 },
		{
			transmission: {
				type: 'manual',
				gears: [3.5, 2.1, 1.4, 1, 0.8],
				finalDrive: 3.9,
				tyreCircumferenceM: 1.95
			},
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
			},
			...more
		}
	);
const goal = (more: Partial<Goal> = {}): Goal =>
	parseGoal({ schema: 'tanto.goal/1', boostKpa: [[1000, 180]], timingCeilingDeg: 20, ...more });

/** Three slow pulls from 2500 to 6900 rpm at 160 kPa, cruise between them. */
const PULLS = [20, 50, 80];
const PULL_S = 12;
const inPull = (t: number) => PULLS.some((p) => t >= p && t < p + PULL_S);
const since = (t: number) => t - PULLS.findLast((p) => t >= p)!;
const rpmAt = (t: number) => (inPull(t) ? 2500 + (since(t) / PULL_S) * 4400 : 2500 + 120 * Math.sin(t / 3));
const shapes = (kpa = 160): Record<string, Shape> => ({
	rpm: rpmAt,
	map: (t) => (inPull(t) ? kpa : 45),
	boostTarget: (t) => (inPull(t) ? kpa : 100),
	baro: () => 100,
	tps: (t) => (inPull(t) ? 100 : 18),
	pedal: (t) => (inPull(t) ? 100 : 18),
	ect: () => 88,
	iat: () => 35,
	ambientTemp: () => 20,
	vbat: () => 14,
	'lambda.target': (t) => (inPull(t) ? 0.8 : 1),
	'lambda.b1': (t) => (inPull(t) ? 0.8 : 1) * (1 + 0.004 * Math.sin(t * 7)),
	knockRetard: () => 0,
	spark: (t) => timing(rpmAt(t)),
	'pw.b1': (t) => (inPull(t) ? 7 : 3),
	fuelPressure: (t) => 300 + (inPull(t) ? kpa : 45) - 100 + Math.sin(t * 5)
});
interface Planted {
	log?: Record<string, Shape>;
	without?: string[];
	kpa?: number;
	calibration?: Calibration;
	vehicle?: Vehicle;
	goal?: Partial<Goal>;
	plugs?: Plugs | null;
	banksSeen?: string;
	/** What the log was really made with. */
	made?: Calibration;
}
function ladder(p: Planted = {}) {
	const c = p.calibration ?? calibration();
	const v = p.vehicle ?? vehicle();
	const all = { ...shapes(p.kpa), ...p.log };
	for (const id of p.without ?? []) delete all[id];
	const input = prepare(handMade(110, 20, all), { vehicle: v, calibrations: [p.made ?? c] });
	return ladderOf({
		calibration: c,
		logs: [{ input, report: screenPrepared(input) }],
		vehicle: v,
		goal: goal(p.goal),
		banksSeen: p.banksSeen ?? null,
		plugs: p.plugs
			? { document: p.plugs, answer: judgePlugs({ plugs: p.plugs, calibration: c, vehicle: v }) }
			: null
	});
}
const closed = (a: ReturnType<typeof ladder>) => a.gates.filter((g) => !g.open).map((g) => g.id);

describe('a rung of boost', () => {
	it('comes before timing, a step at a time, with less timing and more fuel beyond what was driven', () => {
		const a = ladder();
		expect(closed(a)).toEqual([]);
		expect(a.rung).toEqual({ kind: 'boost', from: 160, to: 180 });
		const next = withChanges(calibration(), a.changes);
		const spark = findMap(next, 'spark.table')!;
		// 20 kPa over what was driven: 1° per 7 kPa on petrol; what was driven stays.
		expect(spark.values[KPA.indexOf(180)]![3]).toBeCloseTo(timing(4000) - 20 / 7, 1);
		expect(spark.values[KPA.indexOf(160)]![3]).toBeCloseTo(timing(4000), 2);
		const fuel = findMap(next, 'fuel.table')!;
		expect(fuel.values[KPA.indexOf(180)]![3]).toBe(80.8);
		expect(fuel.values[KPA.indexOf(160)]![3]).toBe(80);
		expect(a.end).toBeNull();
	});
	it('of ethanol takes half as much timing back', () => {
		const a = ladder({ vehicle: vehicle({ fuel: { ethanolPct: 70 } }) });
		const spark = findMap(withChanges(calibration(), a.changes), 'spark.table')!;
		expect(spark.values[KPA.indexOf(180)]![3]).toBeCloseTo(timing(4000) - 20 / 14, 1);
	});
	it('goes no further than the goal', () => {
		const a = ladder({ goal: { boostKpa: [[1000, 168]] }, calibration: calibration({ limit: 180 }) });
		expect(a.rung).toEqual({ kind: 'boost', from: 160, to: 168 });
	});
});

describe('a rung of timing', () => {
	const there = { goal: { boostKpa: [[1000, 160]] as [number, number][] }, kpa: 140 };
	it('comes where the boost is reached: one degree in blocks of two by two that were driven', () => {
		const a = ladder(there);
		expect(a.rung.kind).toBe('timing');
		expect(a.rung.to! - a.rung.from!).toBeCloseTo(1, 6);
		const cells = a.changes.flatMap((ch) => ch.cells);
		expect(new Set(cells.map((x) => x.y))).toEqual(new Set([120, 160]));
		for (const x of cells) {
			expect(x.to - x.from).toBeCloseTo(1, 6);
			expect(x.x).toBeGreaterThanOrEqual(2000);
		}
	});
	it('along one row takes the row of less load with it, and never the one of more', () => {
		const a = ladder({ ...there, kpa: 160 });
		const cells = a.changes.flatMap((ch) => ch.cells);
		expect(new Set(cells.map((x) => x.y))).toEqual(new Set([120, 160]));
		expect(new Set(cells.map((x) => `${x.y} ${x.basis}`))).toEqual(new Set(['120 carried', '160 measured']));
	});
	it('leaves the row of less load where it stands higher', () => {
		const over = (deg: number) =>
			parseCalibration({
				...calibration(),
				items: calibration().items.map((i) =>
					i.id === 'spark.table' && i.kind === 'map'
						? { ...i, values: i.values.map((row, r) => row.map((v) => (KPA[r]! < 160 ? v + deg : v))) }
						: i
				)
			});
		const rows = (deg: number) =>
			new Set(
				ladder({ ...there, kpa: 160, calibration: over(deg) }).changes.flatMap((ch) =>
					ch.cells.map((x) => x.y)
				)
			);
		// 40 kPa less carry 2.9° more.
		expect(rows(2)).toEqual(new Set([120, 160]));
		expect(rows(4)).toEqual(new Set([160]));
	});
	it('never goes over the ceiling, and says so at the end', () => {
		const a = ladder({ ...there, goal: { ...there.goal, timingCeilingDeg: 11 } });
		expect(a).toMatchObject({
			rung: { kind: 'done' },
			changes: [],
			end: { reason: expect.stringContaining('reached') }
		});
	});
	it('leaves cells alone where timing was pulled, the monitor heard something, or the mixture was off', () => {
		const at = (t: number) => inPull(t) && rpmAt(t) > 4700 && rpmAt(t) < 5300;
		const spoiled = (log: Record<string, Shape>) =>
			ladder({ ...there, log })
				.changes.flatMap((ch) => ch.cells)
				.some((x) => x.x === 5000);
		expect(spoiled({})).toBe(true);
		expect(spoiled({ knockMonitor: (t) => (at(t) ? 40 : 0) })).toBe(false);
	});
	it('goes nowhere without a ceiling', () => {
		const a = ladder({
			...there,
			goal: { boostKpa: [[1000, 160]], timingCeilingDeg: undefined } as Partial<Goal>
		});
		expect(a.end!.reason).toContain('no timing ceiling');
	});
});

describe('knock ends the climb', () => {
	it('2° come out there, around it and above it in load, and nothing goes in', () => {
		const knock: Shape = (t) => {
			if (!inPull(t)) return 0;
			const rpm = rpmAt(t);
			return rpm < 4800 ? 0 : rpm < 5000 ? 1.5 : rpm < 5400 ? 3 : 0;
		};
		const a = ladder({ kpa: 140, log: { knockRetard: knock, spark: (t) => timing(rpmAt(t)) - knock(t) } });
		expect(a.end!.reason).toContain('knocked');
		const cells = a.changes.flatMap((ch) => ch.cells);
		expect(cells.every((x) => Math.abs(x.to - x.from + 2) < 1e-6)).toBe(true);
		expect(cells.some((x) => x.x === 5000 && x.y === 240)).toBe(true);
		expect(cells.some((x) => x.x === 2000)).toBe(false);
		expect(a.changes.every((ch) => ch.item === 'spark.table')).toBe(true);
	});
});

describe('fuel before boost', () => {
	it('a mixture that is off is the rung', () => {
		const a = ladder({ log: { 'lambda.b1': (t) => (inPull(t) ? 0.8 * 1.06 : 1) } });
		expect(a.rung.kind).toBe('fuel');
		expect(a.changes.every((ch) => ch.item === 'fuel.table')).toBe(true);
		expect(a.changes.flatMap((ch) => ch.cells).every((x) => x.to > x.from)).toBe(true);
	});
	it('banks that disagree come before fuel, and no table helps', () => {
		const a = ladder({
			vehicle: { ...vehicle(), engine: { ...twoBanks().engine, displacementL: 3 } },
			log: { 'lambda.b2': (t) => (inPull(t) ? 0.8 * 1.06 : 1.06) }
		});
		expect(a).toMatchObject({ rung: { kind: 'banks' }, changes: [] });
		expect(closed(a)).toContain('banks');
	});
});

describe('what stands beside the rung', () => {
	const demand = (pct: number) => {
		const c = calibration();
		const item = {
			id: 'throttle.demand',
			kind: 'map' as const,
			unit: '%',
			x: { channel: 'rpm', points: [1000, 7000] },
			y: { channel: 'pedal', points: [0, 100] },
			values: [
				[0, 0],
				[pct, pct]
			]
		};
		return { ...c, items: [...c.items, item] };
	};
	const short: Record<string, Shape> = {
		pedal: (t) => (inPull(t) ? 100 : 18),
		tps: (t) => (inPull(t) ? 88 : 18)
	};
	it('a demand table that closes the throttle is opened, but never over a stop or a fix', () => {
		expect(ladder({ calibration: demand(88), log: short }).throttle.changes).toHaveLength(1);
		const stopped = ladder({
			calibration: demand(88),
			log: { ...short, fuelPressure: (t) => (inPull(t) ? 280 : 245) + Math.sin(t * 5) }
		});
		expect(closed(stopped)).toContain('verdict');
		expect(stopped.throttle).toMatchObject({ changes: [], why: expect.stringContaining('demand table') });
	});
});

describe('a bank without a sensor of its own', () => {
	const v6 = () => ({ ...vehicle(), engine: { ...twoBanks().engine, displacementL: 3 } });
	it('closes the gate until a sensor that was moved there has seen it', () => {
		expect(closed(ladder({ vehicle: v6() }))).toContain('banks');
		const a = ladder({ vehicle: v6(), banksSeen: 'The other bank was seen up to 6500 rpm: no difference.' });
		expect(closed(a)).not.toContain('banks');
		expect(a.gates.find((g) => g.id === 'banks')!.why).toContain('up to 6500 rpm');
	});
	it('doesn’t open for banks that were measured apart', () => {
		const a = ladder({
			vehicle: v6(),
			log: { 'lambda.b2': (t) => (inPull(t) ? 0.8 * 1.06 : 1.06) },
			banksSeen: 'no difference'
		});
		expect(closed(a)).toContain('banks');
	});
});

describe('a charger that no set point holds back', () => {
	const blown = () => {
		const c = calibration();
		return { ...c, items: c.items.filter((i) => i.id !== 'boost.target') };
	};
	const car = () => {
		const v = vehicle();
		return { ...v, engine: { ...v.engine, aspiration: 'supercharged' as const } };
	};
	it('is rolled into, and a pressure says when to lift', () => {
		const a = ladder({ calibration: blown(), vehicle: car() });
		expect(a.rung).toEqual({ kind: 'boost', from: 160, to: 180 });
		expect(a.drive).toMatch(/roll into it gradually.*lift at 190 kPa/);
		// Beyond what was driven timing comes out and fuel goes in, as with a set point.
		expect(a.changes.map((c) => c.item).sort()).toEqual(['fuel.table', 'spark.table']);
	});
	it('nothing is driven past a closed gate', () => {
		const a = ladder({ calibration: blown(), vehicle: car(), without: ['spark'] });
		expect(closed(a)).toContain('delivered');
		expect(a).toMatchObject({ changes: [], drive: null });
	});
});

describe('every gate closes for its own reason, and then nothing is proposed', () => {
	const plugs = (more: object = {}): Plugs =>
		parsePlugs({
			schema: 'tanto.plugs/1',
			plated: true,
			newForSession: true,
			passes: 2,
			cutAfterPass: true,
			boostKpa: 160,
			readings: [{ cylinder: 1, plating: 'none', mark: 'at-bend' }],
			...more
		});
	it.each<[GateId, Planted]>([
		['revision', { made: calibration({ spark: 2 }) }],
		['delivered', { log: { spark: (t) => timing(rpmAt(t)) - 2 } }],
		['delivered', { without: ['spark'] }],
		['delivered', { log: { knockLearned: () => 3 } }],
		['delivered', { log: { octaneFactor: () => 80 } }],
		['delivered', { log: { torqueLimit: (t) => (inPull(t) ? 1 : 0) } }],
		['duty', { log: { 'pw.b1': (t) => (inPull(t) ? 12.5 : 3) } }],
		['axes', { goal: { boostKpa: [[1000, 240]] }, calibration: calibration({ target: 225, limit: 250 }) }],
		['axes', { vehicle: vehicle({ sensors: { mapFullScaleKpa: 200 } }) }],
		['limitBoost', { calibration: calibration({ limit: 182 }) }],
		['limitBoost', { calibration: calibration({ limit: 230 }) }],
		['overshoot', { log: { map: (t) => (inPull(t) ? 172 : 45) } }],
		['intake', { log: { iat: (t) => (inPull(t) ? 66 : 40) } }],
		['exhaust', { log: { 'egt.cyl1': () => 960, 'egt.cyl2': () => 950 } }],
		['supply', { log: { fuelPressure: (t) => (inPull(t) ? 280 : 245) + Math.sin(t * 5) } }],
		['baseTiming', { calibration: calibration({ verified: '' }) }],
		['plugs', { goal: { plugsEachRung: true } }],
		['plugs', { plugs: plugs({ boostKpa: 140 }) }],
		['plugs', { plugs: plugs({ cutAfterPass: false }) }],
		['plugs', { plugs: plugs({ readings: [{ cylinder: 2, flags: ['specks'] }] }) }],
		['misfire', { log: { 'misfire.cyl3': (t) => (t > 55 ? 4 : 0) } }],
		['knock', { without: ['knockRetard'] }],
		[
			'sensors',
			{
				log: {
					baro: () => 100,
					map: (t) => (inPull(t) ? 160 : 45),
					'lambda.ref': (t) => (inPull(t) ? 0.87 : 1.09)
				}
			}
		],
		['verdict', { log: { ect: () => 121 } }]
	])('%s', (id, planted) => {
		const a = ladder(planted);
		expect(closed(a)).toContain(id);
		expect(a.gates.find((g) => g.id === id)!.why.length).toBeGreaterThan(10);
		// A closed one never hides the others.
		expect(a.gates.map((g) => g.id)).toEqual([...GATE_IDS]);
		expect(a.changes).toEqual([]);
	});
	it('plugs of this rung open theirs', () => {
		expect(closed(ladder({ goal: { plugsEachRung: true }, plugs: plugs() }))).toEqual([]);
	});
});
