/** Plugs: what they ask for (common practice), what holds it back, and what is found. */
import { describe, expect, it } from 'vitest';
import { type Calibration } from '../calibration/document.ts';
import { prepare } from '../evidence/prepare.ts';
import {
	handMade,
	perCylinder,
	pulled,
	pullShapes,
	twoBanks,
	calibrationWith
} from '../testing/hand-made.ts';
import { parsePlugs, type PlugReading, type Plugs } from './document.ts';
import { differences, judgePlugs, type Kind } from './judge.ts';
import { trimmed } from './trimmed.ts';
import { witnessesOf, type Witnesses } from './witnesses.ts';

const base = twoBanks();
const vehicle = {
	...base,
	engine: {
		...base.engine,
		banks: [
			[1, 3, 5],
			[2, 4, 6]
		]
	}
};
const trims = (id: string, values: number[]) => ({
	id,
	kind: 'curve',
	x: { channel: 'cylinder', points: [1, 2, 3, 4, 5, 6] },
	values
});
const calibration = (fuel = [0, 0, 0, 0, 0, 0], spark = [0, 0, 0, 0, 0, 0]): Calibration =>
	calibrationWith([trims('fuel.cylTrim', fuel), trims('spark.cylTrim', spark)]);
const plugs = (readings: PlugReading[], more: Partial<Plugs> = {}): Plugs =>
	parsePlugs({
		schema: 'tanto.plugs/1',
		heatRange: 8,
		rangeCounts: 'higher-is-colder',
		plated: true,
		newForSession: true,
		passes: 3,
		cutAfterPass: true,
		fuel: 'methanol',
		boostKpa: 260,
		readings,
		...more
	});
const fine = (cylinder: number): PlugReading => ({ cylinder, plating: 'none', mark: 'at-bend' });
const judge = (
	readings: PlugReading[],
	more: {
		fuel?: number[];
		set?: Partial<Plugs>;
		witnesses?: Partial<Witnesses>;
		rank?: readonly Kind[];
		calibration?: Calibration;
	} = {}
) =>
	judgePlugs({
		plugs: plugs(readings, more.set),
		calibration: more.calibration ?? calibration(more.fuel),
		vehicle,
		witnesses: more.witnesses
			? { lambda: new Map(), heat: new Map(), misfires: new Map(), ...more.witnesses }
			: null,
		...(more.rank ? { rank: more.rank } : {})
	});
const change = (r: ReturnType<typeof judge>, cylinder: number, item = 'fuel.cylTrim') =>
	r.changes.find((c) => c.cylinder === cylinder && c.item === item);

describe('what plugs ask for (common practice)', () => {
	it('adds to what stands: +3 becomes +5', () => {
		const r = judge([{ cylinder: 2, plating: 'all', mark: 'at-bend' }], { fuel: [0, 3, 0, 0, 0, 0] });
		expect(change(r, 2)).toMatchObject({ from: 3, to: 5 });
		expect(r.findings).toMatchObject([{ code: 'cyl.trim', severity: 'fix', cylinder: 2 }]);
		expect(r.findings[0]!.next[0]).toContain('flowed, numbered');
	});
	it('adds to what stands: −2 becomes 0', () => {
		const r = judge([{ cylinder: 4, plating: 'most', mark: 'at-bend' }], { fuel: [0, 0, 0, -2, 0, 0] });
		expect(change(r, 4)).toMatchObject({ from: -2, to: 0 });
	});
	it('a quarter gone is one point', () => {
		expect(change(judge([{ cylinder: 1, plating: 'quarter' }]), 1)!.to).toBe(1);
		expect(change(judge([{ cylinder: 1, plating: 'half' }]), 1)!.to).toBe(1);
	});
	it('all gone is two points, and the timing waits although the mark is past the bend', () => {
		const r = judge([{ cylinder: 3, plating: 'all', mark: 'past-bend' }]);
		expect(change(r, 3)!.to).toBe(2);
		expect(change(r, 3, 'spark.cylTrim')).toBeUndefined();
		expect(r.held).toEqual([{ cylinder: 3, reason: expect.stringContaining('timing waits') }]);
	});
	it('past the bend takes a degree out', () => {
		const r = judge([{ cylinder: 5, plating: 'none', mark: 'past-bend' }]);
		expect(r.changes).toMatchObject([{ item: 'spark.cylTrim', cylinder: 5, from: 0, to: -1 }]);
	});
	it('a short mark could take half a degree: said, and left alone', () => {
		const r = judge([{ cylinder: 5, plating: 'none', mark: 'short' }]);
		expect(r.changes).toEqual([]);
		expect(r.held[0]).toMatchObject({ cylinder: 5, reason: expect.stringContaining('+0.5°') });
	});
	it('a whole strap with the plating gone is a lean hole: fuel, timing waits', () => {
		const r = judge([{ cylinder: 6, plating: 'most', mark: 'whole-strap' }]);
		expect(change(r, 6)!.to).toBe(2);
		expect(r.findings).toEqual([]);
		expect(r.held[0]!.reason).toContain('timing waits');
	});
	it('a whole strap with its plating is to be mended, and no rung', () => {
		const r = judge([{ cylinder: 6, plating: 'none', mark: 'whole-strap' }]);
		expect(r.findings).toMatchObject([{ code: 'cyl.plug', severity: 'fix', cylinder: 6 }]);
		expect(r.changes).toEqual([]);
	});
	it.each(['melted-strap', 'specks', 'porcelain'] as const)('%s stops', (flag) => {
		const r = judge([{ cylinder: 1, plating: 'all', mark: 'past-bend', flags: [flag] }, fine(2)]);
		expect(r.findings).toMatchObject([{ code: 'cyl.plug', severity: 'stop', cylinder: 1 }]);
		expect(r.changes).toEqual([]);
	});
	it.each([
		['no plating', { plated: false }],
		['used before', { newForSession: false }],
		['too many passes', { passes: 5 }],
		['no pass', { passes: 0 }],
		['driven back', { cutAfterPass: false }]
	])('not readable (%s): the reading is kept, and everything is held with that reason', (_, set) => {
		const r = judge(
			[
				{ cylinder: 1, plating: 'all', mark: 'past-bend' },
				{ cylinder: 2, flags: ['melted-strap'] }
			],
			{ set }
		);
		expect(r.changes).toEqual([]);
		expect(r.held).toEqual([{ cylinder: null, reason: expect.stringContaining('Not readable') }]);
		// What is broken is broken, however it was driven.
		expect(r.findings).toMatchObject([{ code: 'cyl.plug', severity: 'stop', cylinder: 2 }]);
	});
});

describe('trims of the set', () => {
	it('are never brought beyond the median of the set and five points', () => {
		const r = judge([{ cylinder: 2, plating: 'all' }], { fuel: [0, 4, 0, 0, 0, 0] });
		expect(change(r, 2)!.to).toBe(5);
		expect(r.held[0]!.reason).toContain('have the injectors flowed');
		expect(judge([{ cylinder: 2, plating: 'all' }], { fuel: [0, 6, 0, 0, 0, 0] }).changes).toEqual([]);
	});
	it('are watched from three points on', () => {
		const r = judge([{ cylinder: 2, plating: 'quarter' }], { fuel: [0, 2, 0, 0, 0, 0] });
		expect(r.findings).toMatchObject([{ code: 'cyl.trim', severity: 'watch', cylinder: 2 }]);
	});
	it('move the mean of their bank', () => {
		const r = judge([{ cylinder: 2, plating: 'all' }], { fuel: [1, 0, 0, 1, 0, 0] });
		expect(r.bankMean).toEqual([
			{ bank: 1, pct: 0.333 },
			{ bank: 2, pct: 1 }
		]);
	});
	it('stand in the calibration that comes out, and in no other', () => {
		const from = calibration();
		const r = judge(
			[
				{ cylinder: 2, plating: 'all' },
				{ cylinder: 3, plating: 'none', mark: 'past-bend' }
			],
			{
				calibration: from
			}
		);
		const next = trimmed(from, r.changes);
		expect(next.items.map((i) => (i.kind === 'curve' ? i.values : []))).toEqual([
			[0, 2, 0, 0, 0, 0],
			[0, 0, -1, 0, 0, 0]
		]);
		expect(from.items[0]).toMatchObject({ values: [0, 0, 0, 0, 0, 0] });
	});
	it('that a calibration does not have are named', () => {
		const none = calibrationWith([{ id: 'limit.rpm', kind: 'scalar', value: 7000 }], { fuelModel: 'maf' });
		const r = judge(
			[
				{ cylinder: 2, plating: 'all' },
				{ cylinder: 1, mark: 'past-bend', plating: 'none' }
			],
			{
				calibration: none
			}
		);
		expect(r.changes).toEqual([]);
		expect(r.held.map((h) => h.reason).join()).toMatch(/no fuel trims.*no timing trims/);
	});
});

describe('kinds of evidence', () => {
	const lambda = (points: number) => ({ lambda: new Map([[2, points]]) });
	const quarter: PlugReading[] = [{ cylinder: 2, plating: 'quarter', mark: 'at-bend' }];
	it('go by the tuner’s rank', () => {
		expect(change(judge(quarter, { witnesses: lambda(2.5) }), 2)!.to).toBe(2.5);
		expect(change(judge(quarter, { witnesses: lambda(2.5), rank: ['plugs', 'lambda', 'egt'] }), 2)!.to).toBe(
			1
		);
	});
	it.each([
		['other sign', -1.5],
		['more than two points apart', 3.5]
	])('that contradict each other (%s) trim nothing', (_, points) => {
		const r = judge(quarter, { witnesses: lambda(points) });
		expect(r.changes).toEqual([]);
		expect(r.held).toEqual([{ cylinder: 2, reason: expect.stringContaining('contradict each other') }]);
	});
	it('exhaust temperature contradicts and trims nothing itself', () => {
		const colder = judge(quarter, { witnesses: { heat: new Map([[2, -1]]) } });
		expect(colder.changes).toEqual([]);
		expect(colder.held[0]!.reason).toContain('colder');
		expect(judge([fine(2)], { witnesses: { heat: new Map([[2, 1]]) } }).changes).toEqual([]);
		expect(change(judge(quarter, { witnesses: { heat: new Map([[2, 1]]) } }), 2)!.to).toBe(1);
	});
	it('leaner is not proposed where nothing is gone', () => {
		const r = judge([fine(2)], { witnesses: lambda(-1.5) });
		expect(r.changes).toEqual([]);
		expect(r.held[0]!.reason).toContain('gains nothing');
	});
	it('wet or sooty with a misfire: ignition or injector before fuel', () => {
		const wet: PlugReading[] = [{ cylinder: 2, plating: 'all', flags: ['wet'] }];
		const r = judge(wet, { witnesses: { misfires: new Map([[2, 12]]) } });
		expect(r.changes).toEqual([]);
		expect(r.held[0]!.reason).toContain('ignition or injector before fuel');
	});
	it('are taken from a log: lambda by cylinder under load, exhaust at steady load, misfires counted', () => {
		const log = handMade(60, 20, {
			...pullShapes(),
			...perCylinder('lambda', (c) => pulled(c === 2 ? 0.8 * 1.04 : 0.8, 1)),
			...perCylinder('egt', (c) => () => (c === 5 ? 780 : 700)),
			...perCylinder('misfire', (c) => (t) => (c === 6 && t > 12 ? 3 : 0))
		});
		const w = witnessesOf({ input: prepare(log, { vehicle, calibrations: [calibration()] }), findings: [] });
		expect(w.lambda.get(2)).toBeCloseTo(4, 1);
		expect(w.lambda.get(3)).toBe(0);
		expect([...w.heat]).toEqual([[5, 1]]);
		expect([...w.misfires]).toEqual([[6, 3]]);
	});
});

describe('bad documents', () => {
	it.each([
		[{ readings: [] }, 'readings'],
		[{ readings: [{ cylinder: 0 }] }, 'readings[0].cylinder'],
		[{ readings: [{ cylinder: 1, plating: 'some' }] }, 'readings[0].plating'],
		[{ readings: [{ cylinder: 1 }, { cylinder: 1 }] }, 'readings[1].cylinder'],
		[{ passes: -1 }, 'passes']
	])('%j is refused with its path', (more, where) => {
		expect(() => plugs([fine(1)], more as Partial<Plugs>)).toThrow(expect.objectContaining({ where }));
	});
	it('a cylinder that the engine does not have is refused', () => {
		expect(() => judge([fine(7)])).toThrow(expect.objectContaining({ where: 'readings[0].cylinder' }));
	});
});

describe('like with like', () => {
	it('says what makes two readings no match', () => {
		const a = plugs([fine(1)]);
		expect(differences(a, a)).toEqual([]);
		expect(differences(a, plugs([fine(1)], { heatRange: 9, fuel: 'petrol', passes: 1 }))).toEqual([
			'another heat range',
			'another fuel',
			'3 passes against 1'
		]);
	});
});
