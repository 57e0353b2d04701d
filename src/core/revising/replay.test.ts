import { prepare } from '../evidence/prepare.ts';
import { describe, expect, it } from 'vitest';
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import {
	handMade,
	pullShapes,
	twoBanks,
	vehicleWith,
	type Shape,
	calibrationWith
} from '../testing/hand-made.ts';
import { replay } from './replay.ts';
import { structuredCopy, withChanges } from './changes.ts';

const x = { channel: 'rpm', points: [1000, 2500, 4000, 5500, 7000] };
const y = { channel: 'map', points: [40, 100, 170] };
const flat = (v: number) => y.points.map(() => x.points.map(() => v));
const map = (id: string, v: number) => ({ id, kind: 'map', x, y, values: flat(v) });
function calibration(model = 'speed-density', more: object[] = []): Calibration {
	return calibrationWith(
		[
			map('fuel.table', 80),
			{
				...map('lambda.target', 1),
				values: [x.points.map(() => 1), x.points.map(() => 1), x.points.map(() => 0.8)]
			},
			map('spark.table', 18),
			{ id: 'fuel.referencePulse', kind: 'scalar', value: 12 },
			{
				id: 'maf.curve',
				kind: 'curve',
				x: { channel: 'mafFrequency', points: [0, 5000, 10000] },
				values: [0, 100, 300]
			},
			...more
		],
		{ fuelModel: model }
	);
}
const vehicle = vehicleWith({}, { injectors: { flowCcMin: 800, deadTimeMs: [[14, 1]] } });
const lean = 1.06;
const shapes: Record<string, Shape> = {
	...pullShapes(),
	'lambda.b1': (t) => (t >= 10 && t < 16 ? 0.8 * lean : 1),
	spark: (t) => (t >= 10 && t < 16 ? 18 : 30),
	iat: () => 30,
	ambientTemp: () => 20,
	mafFrequency: (t) => (t >= 10 && t < 16 ? 8000 : 2000)
};
const input = (c: Calibration, more: Record<string, Shape> = {}) =>
	prepare(handMade(60, 20, { ...shapes, ...more }), { vehicle, calibrations: [c] });
/** Changes every cell of a table by a factor in its last row: under boost. */
function boosted(c: Calibration, id: string, change: (v: number) => number): Calibration {
	const next = structuredCopy(c);
	const item = next.items.find((i) => i.id === id);
	if (item?.kind === 'map') item.values[2] = item.values[2]!.map(change);
	return next;
}
const summary = (c: Calibration, next: Calibration, more: Record<string, Shape> = {}) =>
	replay(input(c, more), next).pulls[0]!.summary;

describe('replay', () => {
	it('says that nothing changes with the same revision', () => {
		const r = replay(input(calibration()), calibration());
		expect(r.pulls[0]!.summary.leanestPct[0]).toBeCloseTo(6, 1);
		expect(r.pulls[0]!.summary.leanestPct[1]).toBeCloseTo(6, 1);
		expect(r.pulls[0]!.fuelPct.every((v) => v === null || v === 0)).toBe(true);
		expect(r.unproven).toEqual([]);
	});
	it('predicts the target where the table gets what was missing', () => {
		const c = calibration();
		const r = replay(
			input(c),
			boosted(c, 'fuel.table', (v) => v * lean)
		);
		const { summary: s, lambda, fuelPct } = r.pulls[0]!;
		expect(s.leanestPct[1]).toBeCloseTo(0, 1);
		expect(lambda.after[6]).toBeCloseTo(0.8, 3);
		expect(fuelPct[6]).toBeCloseTo(6, 2);
		expect(r.left).toEqual([]);
		expect(r.map!.before[2]![2]).toBeCloseTo(6, 1);
		expect(r.map!.after[2]![2]).toBeCloseTo(0, 1);
		expect(r.beyond.filter((b) => b.what.includes('lean'))).toEqual([]);
	});
	it('judges by the bank that is there where the other has a hole', () => {
		const v = twoBanks({ injectors: { flowCcMin: 800, deadTimeMs: [[14, 1]] } });
		const c = calibration();
		const of = (hole: boolean) =>
			replay(
				prepare(
					handMade(60, 20, {
						...shapes,
						'lambda.b2': (t) => (hole && t >= 12 && t < 15 ? Number.NaN : shapes['lambda.b1']!(t))
					}),
					{ vehicle: v, calibrations: [c] }
				),
				c
			).pulls[0]!.lambda.after.filter((l) => l !== null).length;
		expect(of(true)).toBe(of(false));
	});
	it('names cells that stay off, and what goes beyond a limit', () => {
		const c = calibration();
		const r = replay(
			input(c, { 'lambda.b1': (t) => (t >= 10 && t < 16 ? 0.8 * 1.12 : 1) }),
			boosted(c, 'fuel.table', (v) => v * 1.02)
		);
		expect(r.left.length).toBeGreaterThan(1);
		expect(r.left[0]!.errorPct).toBeCloseTo(9.8, 1);
		expect(r.beyond.find((b) => b.what.startsWith('leanest'))).toMatchObject({ severity: 'stop', limit: 8 });
		expect(r.beyond.find((b) => b.unit === 'λ')).toMatchObject({ severity: 'stop', limit: 0.85 });
	});
	it('a richer target makes it richer where the fuel follows the target, not where the pulse is set', () => {
		const richer = (c: Calibration) => boosted(c, 'lambda.target', (v) => v * 0.95);
		const sd = calibration();
		expect(replay(input(sd), richer(sd)).pulls[0]!.lambda.after[6]).toBeCloseTo(0.8 * lean * 0.95, 3);
		const pw = calibration('pulse-width');
		const r = replay(input(pw), richer(pw)).pulls[0]!;
		expect(r.lambda.after[6]).toBeCloseTo(0.8 * lean, 3);
		expect(r.summary.leanestPct[1]).toBeCloseTo(100 * (lean / 0.95 - 1), 0);
	});
	it('follows the reference pulse, the global trim, and the pressure that the pulse is scaled by', () => {
		const c = calibration('pulse-width', [
			{ id: 'fuel.trim', kind: 'scalar', value: 15 },
			{ id: 'fuel.mapScaling', kind: 'setting', value: 'none' }
		]);
		const next = structuredCopy(c);
		for (const i of next.items) {
			if (i.id === 'fuel.referencePulse' && i.kind === 'scalar') i.value = 6;
			if (i.id === 'fuel.trim' && i.kind === 'scalar') i.value = 7;
			if (i.id === 'fuel.table' && i.kind === 'map') i.values = flat(160);
		}
		// Constant halved, table doubled: only the trim is left, 1.07 / 1.15.
		expect(replay(input(c), next).pulls[0]!.fuelPct[6]).toBeCloseTo(100 * (1.07 / 1.15 - 1), 2);
		const scaled = structuredCopy(c);
		for (const i of scaled.items) if (i.id === 'fuel.mapScaling' && i.kind === 'setting') i.value = 100;
		expect(replay(input(c), scaled).pulls[0]!.fuelPct[6]).toBeCloseTo(70, 1);
	});
	it('reads the air meter curve in its model', () => {
		const c = calibration('maf');
		const next = withChanges(c, [{ item: 'maf.curve', cells: [{ x: 10000, y: 0, to: 318 }] }]);
		// At 8000 Hz between 100 and 300: 220; then 100 and 318: 230.8.
		expect(replay(input(c), next).pulls[0]!.fuelPct[6]).toBeCloseTo(100 * (230.8 / 220 - 1), 2);
	});
	it('mixes the members of a blend before it reads them', () => {
		const blended = (second: number) => {
			const c = calibration('speed-density', [map('fuel.table@105', 80), map('fuel.table@115', second)]);
			return parseCalibration({
				...c,
				items: c.items.filter((i) => i.id !== 'fuel.table'),
				blends: [
					{
						item: 'fuel.table',
						channel: 'camIntake',
						points: [105, 115],
						members: ['fuel.table@105', 'fuel.table@115']
					}
				]
			});
		};
		// A quarter of the way: a quarter of 8 % more in the second member.
		const r = replay(input(blended(80), { camIntake: () => 107.5 }), blended(86.4));
		expect(r.pulls[0]!.fuelPct[6]).toBeCloseTo(2, 2);
	});
	it('moves timing by the difference of the tables, duty with the fuel above the dead time', () => {
		const c = calibration();
		const next = boosted(
			boosted(c, 'spark.table', (v) => v - 2),
			'fuel.table',
			(v) => v * 1.1
		);
		const s = summary(c, next);
		expect(s.sparkMaxDeg).toEqual([18, 16]);
		// 9 ms of which 1 is dead time: 8 × 1.1 + 1 = 9.8.
		expect(s.dutyPct[1]! / s.dutyPct[0]!).toBeCloseTo(9.8 / 9, 2);
		expect(s.dutyWorstDayPct[1]!).toBeGreaterThan(s.dutyPct[1]!);
	});
	it('counts changed cells that nothing proves, and says what it can not know', () => {
		const c = calibration('speed-density', [
			{ id: 'boost.target', kind: 'curve', x: { channel: 'rpm', points: [2000, 6000] }, values: [150, 170] }
		]);
		const next = structuredCopy(c);
		for (const i of next.items) {
			if (i.id === 'fuel.table' && i.kind === 'map') i.values[1] = i.values[1]!.map((v) => v + 1);
			if (i.id === 'boost.target' && i.kind === 'curve') i.values = [160, 180];
		}
		const r = replay(input(c), next);
		expect(r.unproven.find((u) => u.item === 'fuel.table')!.cells).toBe(5);
		expect(r.unknown.join()).toContain('boost');
		expect(r.unknown.join()).toContain('knocks');
	});
	it.each([
		['another fuel model', calibration('maf'), {}, 'fuel models differ'],
		['no lambda', calibration(), { 'lambda.b1': () => Number.NaN }, ''],
		['no axis', boosted(calibration(), 'fuel.table', (v) => v + 1), { map: () => Number.NaN }, '']
	])('refuses %s or predicts nothing', (_, next, more, why) => {
		const i = input(calibration(), more as Record<string, Shape>);
		if (why) expect(() => replay(i, next)).toThrow(why);
		else expect(replay(i, next).pulls.every((p) => p.summary.leanestPct[1] === null)).toBe(true);
	});
	it('refuses a log without lambda or target in words', () => {
		const none = { ...shapes };
		delete none['lambda.b1'];
		const i = prepare(handMade(30, 20, none), { vehicle, calibrations: [calibration()] });
		expect(() => replay(i, calibration())).toThrow('no lambda');
	});
});
