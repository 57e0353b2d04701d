/** From logs to the requirement: which of them speak, where witnesses agree, banks, misfires, and what else the error follows. */
import { describe, expect, it } from 'vitest';
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import { prepare } from '../evidence/prepare.ts';
import { nextDrives } from '../revising/next-drive.ts';
import { Rng } from '../stats/rng.ts';
import { handMade, twoBanks, vehicleWith, type Shape, calibrationWith } from '../testing/hand-made.ts';
import { agreedNodes } from './agreement.ts';
import { estimate } from './estimate.ts';
import { hear, type Evidence } from './evidence.ts';
import { requirementCsv } from './export.ts';
import { fieldDifference, gridField, logFields } from './grid-field.ts';
import { DEFAULT_STRATEGY } from './strategy.ts';
import { requirementSchema, requirementView } from './view.ts';

const X = [1500, 2000, 2500, 3000, 3500, 4000, 4500];
const Y = [30, 45, 60, 75, 90];
const made = (value = 80, more: object[] = []): Calibration =>
	calibrationWith([
		{
			id: 'fuel.table',
			kind: 'map',
			x: { channel: 'rpm', unit: 'rpm', points: X },
			y: { channel: 'map', unit: 'kPa', points: Y },
			values: Y.map(() => X.map(() => value))
		},
		...more
	]);
/** Part throttle all over the middle of the table, the mixture off by `off`. */
const wander = (off: (t: number) => number, more: Record<string, Shape> = {}, seconds = 400, seed = 3) => {
	const rng = new Rng(seed);
	return handMade(seconds, 20, {
		rpm: (t) => 3000 + 900 * Math.sin(t / 9),
		map: (t) => 60 + 24 * Math.sin(t / 13),
		baro: () => 100,
		tps: () => 25,
		ect: () => 88,
		'lambda.target': () => 1,
		'lambda.b1': (t) => (1 + off(t)) * (1 + 0.004 * rng.normal()),
		...more
	});
};
const one = vehicleWith();
const evidenceOf = (
	log: ReturnType<typeof wander>,
	calibration: Calibration,
	vehicle = one,
	findings: Evidence['findings'] = []
): Evidence => ({ input: prepare(log, { vehicle, calibrations: [calibration] }), findings });
const OPTIONS = { strategy: DEFAULT_STRATEGY, noRemoval: false, feedLeaner: false };
const middle = 2 * X.length + 3;

describe('logs of several revisions', () => {
	it('say the same about the newest, whatever fuel theirs gave', () => {
		// The engine wants 84: 5 % more than the old table gave, exactly what the new one gives.
		const [old, now] = [made(80), made(84)];
		const r = estimate(
			[
				evidenceOf(
					wander(() => 0),
					now
				),
				evidenceOf(
					wander(() => 0.05),
					old
				)
			],
			now,
			OPTIONS
		)!;
		expect(r.speaking).toHaveLength(2);
		expect(Math.abs(r.field.d[middle]!)).toBeLessThan(0.004);
		expect(r.changes.every((n) => n.delta === 0)).toBe(true);
	});
	it('take a target into account that was changed with the table', () => {
		const target = (v: number) => ({
			id: 'lambda.target',
			kind: 'map',
			x: { channel: 'rpm', points: X },
			y: { channel: 'map', points: Y },
			values: Y.map(() => X.map(() => v))
		});
		const pulse = (value: number, goal: number) => ({
			...made(value, [target(goal)]),
			fuelModel: 'pulse-width' as const
		});
		// In the pulse-width model the target is not in the fuel: a richer one wants more of the same table.
		const [old, now] = [pulse(80, 1), pulse(80, 0.9)];
		const r = estimate(
			[
				evidenceOf(
					wander(() => 0),
					old
				)
			],
			now,
			OPTIONS
		)!;
		expect(r.field.d[middle]).toBeCloseTo(1 / 0.9 - 1, 2);
	});
	it('are told apart by their days', () => {
		const c = made();
		const logs = [0.01, -0.01].map((day, n) =>
			evidenceOf(
				wander(() => 0.05 + day, {}, 400, n + 5),
				c
			)
		);
		const r = estimate(logs, c, OPTIONS)!;
		expect(r.field.d[middle]).toBeCloseTo(0.05, 2);
		expect(r.field.offsets[0]!.value).toBeGreaterThan(0.004);
		expect(r.field.offsets[1]!.value).toBeLessThan(-0.004);
	});
	const found = (code: string): Evidence['findings'] => [
		{ code, severity: 'fix', title: `found ${code}` } as Evidence['findings'][number]
	];
	it.each<[string, () => Evidence, string]>([
		[
			'its banks disagreed',
			() =>
				evidenceOf(
					wander(() => 0),
					made(70),
					one,
					found('bank.mismatch')
				),
			'found bank.mismatch'
		],
		[
			'it was another car',
			() =>
				evidenceOf(
					wander(() => 0),
					made(70),
					one,
					found('log.vehicle')
				),
			'found log.vehicle'
		],
		[
			'another fuel',
			() =>
				evidenceOf(
					wander(() => 0, { ethanol: () => 40 }),
					made(70)
				),
			'another fuel'
		],
		[
			'another model of the fuel',
			() =>
				evidenceOf(
					wander(() => 0),
					{ ...made(70), fuelModel: 'pulse-width' }
				),
			'another fuel model'
		]
	])('an older one keeps silent where %s', (_, older, why) => {
		const now = made();
		const [own, silent] = hear(
			[
				evidenceOf(
					wander(() => 0, { ethanol: () => 5 }),
					now
				),
				older()
			],
			now
		);
		expect(own!.silent).toBeNull();
		expect(silent!.silent).toContain(why);
	});
	it('keeps no log of the revision itself silent: its findings hold, they don’t hide it', () => {
		const now = made();
		expect(
			hear(
				[
					evidenceOf(
						wander(() => 0),
						now,
						one,
						found('bank.mismatch')
					)
				],
				now
			)[0]!.silent
		).toBeNull();
	});
});

describe('two witnesses', () => {
	const witnesses = (compensated?: boolean) =>
		vehicleWith(
			{},
			{
				sensors: {
					lambda: [
						{ channel: 'lambda.b1', kind: 'factory', site: 'bank1', pressureCompensated: compensated },
						{ channel: 'lambda.ref', kind: 'independent', site: 'bank1', pressureCompensated: compensated }
					]
				}
			}
		);
	const agreed = (off: number, vehicle = witnesses(), more: Record<string, Shape> = {}, node = middle) => {
		const c = made();
		const r = estimate(
			[
				evidenceOf(
					wander(() => 0, { 'lambda.ref': () => 1 + off, ...more }),
					c,
					vehicle
				)
			],
			c,
			OPTIONS
		)!;
		return agreedNodes(r.speaking, r.samples, r.nodes.count)[node];
	};
	it('agree within 2 %', () => {
		expect(agreed(0.015)).toBe(1);
		expect(agreed(0.03)).toBe(0);
	});
	it('are one where both are uncompensated and the exhaust is under pressure', () => {
		const boosted = { baro: () => 75, map: (t: number) => 88 + 2 * Math.sin(t / 13) };
		const top = 4 * X.length + 3;
		expect(agreed(0, witnesses(false), boosted, top)).toBe(0);
		expect(agreed(0, witnesses(true), boosted, top)).toBe(1);
		expect(agreed(0, witnesses(false))).toBe(1);
	});
	it('are one alone where only one is logged', () => {
		const c = made();
		const r = estimate(
			[
				evidenceOf(
					wander(() => 0),
					c
				)
			],
			c,
			OPTIONS
		)!;
		expect(agreedNodes(r.speaking, r.samples, r.nodes.count).some(Boolean)).toBe(false);
	});
});

describe('two banks between watch and fix apart', () => {
	it('feed the leaner one by half of what lies between them, where it is loaded', () => {
		const c = made();
		const loaded = { tps: () => 100, map: (t: number) => 88 + 4 * Math.sin(t / 13), 'lambda.b2': () => 1.03 };
		const input = evidenceOf(
			wander(() => 0, loaded),
			c,
			vehicleWith({ layout: 'v', cylinders: 6, aspiration: 'na' })
		);
		const at = (feedLeaner: boolean) =>
			Math.max(...estimate([input], c, { ...OPTIONS, feedLeaner })!.changes.map((n) => n.delta));
		expect(at(true) - at(false)).toBeCloseTo(0.015, 2);
	});
});

describe('what else the error follows', () => {
	const heat = (t: number) => 30 + 20 * Math.sin(t / 25);
	it('is found with its slope and its doubt, and keeps fuel from being taken out for it', () => {
		const c = made();
		const log = wander((t) => -0.02 + 0.003 * (heat(t) - 30), { iat: heat }, 1500);
		const r = estimate([evidenceOf(log, c)], c, OPTIONS)!;
		const [iat] = r.follows;
		expect(iat).toMatchObject({ term: 'iat', item: 'fuel.iatTrim' });
		expect(iat!.slope).toBeGreaterThan(0.2);
		expect(iat!.slope).toBeLessThan(0.32);
		expect(iat!.se).toBeGreaterThan(0);
		expect(iat!.se).toBeLessThan(0.1);
	});
	it.each<[string, (t: number) => number, Shape]>([
		['nothing follows it', () => 0.02, heat],
		['it hardly moved', (t) => 0.003 * (heat(t) - 30), () => 30],
		['it only rose once', (t) => 0.003 * (t / 30), (t) => 20 + t / 30]
	])('is not said where %s', (_, off, iat) => {
		const c = made();
		const r = estimate([evidenceOf(wander(off, { iat }, 1500), c)], c, OPTIONS)!;
		expect(r.follows.filter((f) => f.term === 'iat')).toEqual([]);
	});
});

describe('what goes out', () => {
	const c = made();
	const r = estimate(
		[
			evidenceOf(
				wander(() => 0.04),
				c
			)
		],
		c,
		OPTIONS
	)!;
	it('as CSV: a line a cell with what it wants and how sure that is', () => {
		const [header, ...lines] = requirementCsv(r).trimEnd().split('\n');
		expect(header).toBe(
			'item,x [rpm rpm],y [map kPa],value,wanted,correction_pct,sd_pct,trust,basis,samples,seconds'
		);
		expect(lines).toHaveLength(X.length * Y.length);
		const cell = lines.find((l) => l.startsWith('fuel.table,3000,60,'))!.split(',');
		expect(Number(cell[4])).toBeCloseTo(83.2, 0);
		expect(Number(cell[6])).toBeGreaterThan(0.3);
		expect(cell[8]).toBe('measured');
	});
	it('as a view that its schema knows', () => {
		const view = requirementSchema.parse(requirementView(r));
		expect(view.tables[0]!.percent[2]![3]).toBeCloseTo(4, 0);
		expect(view.logs).toHaveLength(1);
		expect(view.tables[0]!.why[2]![3]).toBe('measured');
	});
	it('names the drives that settle most, the pull that nobody made among them', () => {
		const [x, y] = [
			[1500, 2500, 3500, 4500, 5500, 6500],
			[30, 60, 90]
		];
		const wide = parseCalibration({
			...c,
			items: [
				{
					id: 'fuel.table',
					kind: 'map',
					x: { channel: 'rpm', points: x },
					y: { channel: 'map', points: y },
					values: y.map(() => x.map(() => 80))
				}
			]
		});
		const next = nextDrives(
			estimate(
				[
					evidenceOf(
						wander(() => 0, { map: () => 50 }),
						wide
					)
				],
				wide,
				OPTIONS
			)!
		);
		const pull = next.find((d) => d.kind === 'pull')!;
		expect(pull.rpm[1]).toBeGreaterThan(6000);
		expect(pull.why).toContain('lean, and fuel goes in at once');
		expect(next.every((d) => d.gainPct > 0 && d.cells > 0)).toBe(true);
		// Best gain of certainty for a minute of driving first.
		expect(next.map((d) => d.gainPct)).toEqual(next.map((d) => d.gainPct).toSorted((p, q) => q - p));
	});
	it('asks for nothing more where all is known', () => {
		expect(nextDrives({ ...r, field: { ...r.field, sd: r.field.sd.map(() => 0.01) } })).toEqual([]);
	});
});

describe('the field of a log over a grid', () => {
	const c = made();
	const of = (off: (t: number) => number, vehicle = one, more: Record<string, Shape> = {}) =>
		prepare(wander(off, more), { vehicle, calibrations: [c] });
	it('is what its mixture wants, with its doubt', () => {
		const f = gridField(
			of(() => 0.05),
			{ xChannel: 'rpm', x: X, yChannel: 'map', y: Y }
		)!;
		expect(f.percent[2]![3]).toBeCloseTo(5, 0);
		expect(f.sd[2]![3]).toBeLessThan(1);
		expect(f.trust[2]![3]).toBeGreaterThan(0.95);
	});
	it('is none where the log lacks an axis', () => {
		expect(
			gridField(
				of(() => 0),
				{ xChannel: 'rpm', x: X, yChannel: 'maf', y: Y }
			)
		).toBeNull();
	});
	it('of two banks is one each', () => {
		const { banks, all } = logFields(of(() => 0, twoBanks(), { 'lambda.b2': () => 1.06 }));
		expect(banks[0]!.percent[2]![3]).toBeCloseTo(0, 0);
		expect(banks[1]!.percent[2]![3]).toBeCloseTo(6, 0);
		expect(all!.percent[2]![3]).toBeCloseTo(3, 0);
	});
	it('of two logs says what lies between them, and whether it is more even', () => {
		const axes = { xChannel: 'rpm', x: X, yChannel: 'map', y: Y };
		const hill = gridField(
			of((t) => 0.05 * Math.sin(t / 9)),
			axes
		)!;
		const flat = gridField(
			of(() => 0.01),
			axes
		)!;
		const d = fieldDifference(hill, flat)!;
		expect(d.summary!.uneven[0]).toBeGreaterThan(2 * d.summary!.uneven[1]);
		expect(d.summary!.size[1]).toBeLessThan(d.summary!.size[0]);
		expect(d.points[2]![3]).toBeCloseTo(flat.percent[2]![3]! - hill.percent[2]![3]!, 2);
		expect(fieldDifference(hill, { ...flat, percent: [[1]] })).toBeNull();
	});
});
