import { calibrationWith } from '../testing/hand-made.ts';
import { describe, expect, it } from 'vitest';
import { changeReportCsv } from './change-report.ts';
import { compare, tableDelta } from './compare.ts';
import type { Calibration, MapItem } from './document.ts';
import { roundTo } from './lookup.ts';
import { classify } from './risk.ts';

const map = (values: number[][], x = [1000, 2000], y = [50, 100]) => ({
	id: 'fuel.table',
	kind: 'map',
	unit: '%',
	x: { channel: 'rpm', points: x },
	y: { channel: 'map', points: y },
	values
});
const calibration = (items: object[], fuelModel = 'speed-density') => calibrationWith(items, { fuelModel });

describe('comparing', () => {
	it('finds nothing between a calibration and itself, titles aside', () => {
		const a = calibration([
			map([
				[1, 2],
				[3, 4]
			])
		]);
		const b = calibration([
			{
				...map([
					[1, 2],
					[3, 4]
				]),
				title: 'renamed'
			}
		]);
		expect(compare(a, b)).toMatchObject({ comparable: 'all', guards: [], changes: [] });
	});
	it('counts changed cells with extremes and mean of the change', () => {
		const [change] = compare(
			calibration([
				map([
					[1, 2],
					[3, 4]
				])
			]),
			calibration([
				map([
					[1, 2.5],
					[3, 3]
				])
			])
		).changes;
		expect(change).toMatchObject({
			item: 'fuel.table',
			cellsChanged: 2,
			min: -1,
			max: 0.5,
			mean: -0.25,
			class: 'riskier'
		});
	});
	it('looks the old surface up on the new points when an axis moved', () => {
		const a = calibration([
			map([
				[10, 20],
				[10, 20]
			])
		]).items[0] as MapItem;
		const b = calibration([
			map(
				[
					[15, 20],
					[15, 21]
				],
				[1500, 2000]
			)
		]).items[0] as MapItem;
		expect(tableDelta(a, b)).toEqual([
			[0, 0],
			[0, 1]
		]);
	});
	it('a table only moved to other points of the same surface is neutral', () => {
		const a = calibration([
			map([
				[10, 20],
				[10, 20]
			])
		]);
		const b = calibration([
			map(
				[
					[10, 15, 20],
					[10, 15, 20]
				],
				[1000, 1500, 2000]
			)
		]);
		expect(compare(a, b).changes[0]).toMatchObject({ class: 'neutral', cellsChanged: 0 });
	});
	it('an item on one side only is unknown', () => {
		const extra = { id: 'own.thing', kind: 'scalar', value: 3 };
		expect(compare(calibration([]), calibration([extra])).changes[0]).toMatchObject({
			only: 'b',
			class: 'unknown',
			to: 3
		});
	});
	it('sets the change of a VE table and of its target against each other', () => {
		const target = (v: number) => ({
			...map([
				[v, v],
				[v, v]
			]),
			id: 'lambda.target'
		});
		const c = compare(
			calibration([
				map([
					[80, 80],
					[80, 80]
				]),
				target(0.9)
			]),
			calibration([
				map([
					[88, 88],
					[88, 88]
				]),
				target(0.99)
			])
		);
		// 10 % more air at a target 10 % leaner is the same fuel.
		expect(c.effectiveFuel!.percent.flat().every((p) => Math.abs(p) < 0.001)).toBe(true);
	});
	it('has one row over frequency for an air meter', () => {
		const curve = (v: number[]) => ({
			id: 'maf.curve',
			kind: 'curve',
			x: { channel: 'mafFrequency', points: [2000, 4000] },
			values: v
		});
		const c = compare(calibration([curve([10, 50])], 'maf'), calibration([curve([10, 55])], 'maf'));
		expect(c.effectiveFuel).toEqual({ x: [2000, 4000], y: null, percent: [[0, 10]] });
	});
});

describe('safer or riskier', () => {
	it.each([
		['limit.rpm', 200, 'riskier'],
		['limit.rpm', -200, 'safer'],
		['spark.table', -2, 'safer'],
		['spark.table', 0.5, 'riskier'],
		['boost.target', -10, 'safer'],
		['lambda.target', 0.02, 'riskier'],
		['fuel.table@105', 1, 'safer'],
		['fuel.cylTrim', -1, 'riskier'],
		['knock.sensitivity', -5, 'riskier'],
		['limit.lean', 0.05, 'riskier'],
		['shift.rpm', 100, 'neutral'],
		['somebody.else', 1, 'unknown']
	])('%s by %f is %s', (id, delta, expected) => {
		expect(classify(id, [delta]).class).toBe(expected);
	});
	it('a change in both directions is riskier, whatever the larger part', () => {
		expect(classify('fuel.table', [5, 5, 5, -1]).class).toBe('riskier');
	});
	it('what is under the tolerance of the item decides nothing, and both shares are told', () => {
		const rich = [...Array<number>(118).fill(11.7), ...Array<number>(6).fill(-0.1)];
		expect(classify('fuel.table', rich, { olds: rich.map(() => 100) })).toEqual({
			class: 'safer',
			rule: '118 cells more fuel, up to +11.7 %; 6 cells fuel taken out, at most −0.1 %'
		});
		expect(classify('fuel.table', [-0.1, -0.1], { olds: [80, 80] }).class).toBe('neutral');
		// In percent of the value: a tenth of a small one is a lot.
		expect(classify('fuel.table', [-0.1, -0.1], { olds: [8, 8] }).class).toBe('riskier');
		expect(classify('spark.table', [0.1, -3]).rule).toBe(
			'1 cell timing added, at most +0.1°; 1 cell timing taken out, up to −3.0°'
		);
		expect(classify('limit.rpm', [1]).class).toBe('riskier');
	});
	it('knock control switched off is riskier, on again safer', () => {
		expect(classify('knock.enabled', [], { from: true, to: false }).class).toBe('riskier');
		expect(classify('knock.enabled', [], { from: false, to: true }).class).toBe('safer');
	});
});

describe('rounding', () => {
	it.each([
		[1.005, 2, 1.01],
		[-1.5, 0, -2],
		[82.456, 1, 82.5]
	])('%f to %i decimals', (v, d, expected) => {
		expect(roundTo(v, d)).toBe(expected);
	});
});

describe('effective timing and its guards', () => {
	const timing = (v: number, more: object[] = []): Calibration =>
		calibrationWith([
			{
				id: 'spark.table',
				kind: 'map',
				x: { channel: 'rpm', points: [2000, 6000] },
				y: { channel: 'map', points: [100, 160] },
				values: [
					[v, v],
					[v - 8, v - 8]
				]
			},
			...more
		]);
	it('adds the mean of the cylinder trims to the table', () => {
		const trims = (values: number[]) => ({
			id: 'spark.cylTrim',
			kind: 'curve',
			x: { channel: 'cylinder', points: [1, 2] },
			values
		});
		const c = compare(timing(40, [trims([0, 0])]), timing(33, [trims([1, 2])]));
		// 40 to 33 degrees (common practice), of which 1.5 come back by the trims.
		expect(c.effectiveTiming!.degrees[0]).toEqual([-5.5, -5.5]);
	});
	it('two cars with trigger offsets of -355 and +355 can not be compared in timing (common practice)', () => {
		const offset = (value: number) => ({ id: 'trigger.offset', kind: 'setting', value });
		const c = compare(timing(30, [offset(-355)]), timing(20, [offset(355)]));
		expect(c.comparable).toBe('partly');
		expect(c.guards.find((g) => g.item === 'trigger.offset')!.affects).toContain('spark.table');
		// Over two turns of the crank they are 10 degrees apart.
		expect(c.effectiveTiming!.offsetDeg).toBe(-10);
	});
	it('what a guard touches has no verdict, unless it looks riskier', () => {
		const verified = (value: string) => ({ id: 'spark.baseVerified', kind: 'setting', value });
		const offset = (value: number) => ({ id: 'trigger.offset', kind: 'setting' as const, value });
		const cls = (from: number, to: number) =>
			compare(
				timing(from, [verified('x'), offset(60)]),
				timing(to, [verified('x'), offset(62)])
			).changes.find((c) => c.item === 'spark.table');
		expect(cls(30, 28)).toMatchObject({ class: 'unknown' });
		expect(cls(30, 28)!.rule).toContain('no verdict');
		expect(cls(30, 32)).toMatchObject({ class: 'riskier' });
		// Without the guard less timing is the safer side.
		const alone = compare(timing(30, [verified('x')]), timing(28, [verified('x')])).changes;
		expect(alone.find((c) => c.item === 'spark.table')).toMatchObject({ class: 'safer' });
	});
	it('a base timing that nobody verified guards every table of timing', () => {
		const verified = (value: string) => ({ id: 'spark.baseVerified', kind: 'setting', value });
		const c = compare(timing(30, [verified('with a light')]), timing(30, [verified('')]));
		expect(c.guards.find((g) => g.item === 'spark.baseVerified')!.affects).toEqual(['spark.table']);
		expect(compare(timing(30, [verified('x')]), timing(31, [verified('y')])).guards).toEqual([]);
	});
	it('another displacement guards the fuel', () => {
		const d = (value: number) => ({ id: 'engine.displacement', kind: 'scalar', value });
		const c = compare(timing(30, [d(2)]), timing(30, [d(2.2)]));
		expect(c.guards[0]).toMatchObject({ item: 'engine.displacement', affects: ['spark.table'] });
	});
	it('is nothing where one has no timing table', () => {
		const none = calibrationWith([], { name: 'n', fuelModel: 'maf' });
		expect(compare(timing(20), none).effectiveTiming).toBeNull();
	});
});

describe('the change report', () => {
	it('has a line per changed cell and value, with class, rule and reason', () => {
		const of = (limit: number, cell: number): Calibration =>
			calibrationWith(
				[
					{ id: 'limit.rpm', kind: 'scalar', value: limit },
					{
						id: 'maf.curve',
						kind: 'curve',
						x: { channel: 'mafFrequency', points: [1, 2] },
						values: [10, cell]
					}
				],
				{ fuelModel: 'maf' }
			);
		const [a, b] = [of(6800, 20), of(7000, 21)];
		const lines = changeReportCsv(a, b, compare(a, b), { 'maf.curve|2|0': 'lean there, "measured"' })
			.trim()
			.split('\n');
		expect(lines).toEqual([
			'item,class,rule,x,y,old,new,difference,percent,reason',
			'limit.rpm,riskier,rev limit raised,,,6800,7000,200,2.941176,',
			'maf.curve,safer,"1 cell more fuel, up to +5.0 %",2,,20,21,1,5,"lean there, ""measured"""'
		]);
	});
	it('names what makes the two not comparable first', () => {
		const of = (offset: number): Calibration =>
			calibrationWith([{ id: 'trigger.offset', kind: 'setting', value: offset }], { fuelModel: 'maf' });
		expect(changeReportCsv(of(1), of(2), compare(of(1), of(2)))).toContain('trigger.offset,not comparable');
	});
});

describe('a table on other axes', () => {
	const table = (points: number[], channel: string, values: number[][]) =>
		calibrationWith([
			{
				id: 'fuel.table',
				kind: 'map',
				decimals: 2,
				x: { channel: 'rpm', points: [1000, 3000] },
				y: { channel, points },
				values
			}
		]);
	const before = table([40, 100], 'map', [
		[50, 60],
		[70, 80]
	]);
	it('pressure read as a ratio at the standard atmosphere is the same surface, and the same fuel', () => {
		const ratio = table([0.3948, 0.9869], 'pressureRatio', [
			[50, 60],
			[70, 80]
		]);
		const c = compare(before, ratio);
		expect(c.changes).toMatchObject([{ class: 'neutral', cellsChanged: 0 }]);
		expect(Math.max(...c.effectiveFuel!.percent.flat().map(Math.abs))).toBeLessThan(0.01);
	});
	it('a finer axis on the old surface is no change; rounding is none either, a real one is', () => {
		const finer = table([40, 60, 100], 'map', [
			[50, 60],
			[56.67, 66.67],
			[70, 80]
		]);
		expect(compare(before, finer).changes).toMatchObject([{ class: 'neutral', cellsChanged: 0 }]);
		const leaner = table([40, 60, 100], 'map', [
			[50, 60],
			[56.67, 65],
			[70, 80]
		]);
		expect(compare(before, leaner).changes).toMatchObject([{ class: 'riskier', cellsChanged: 1 }]);
	});
});
