import { prepare } from '../evidence/prepare.ts';
import { describe, expect, it } from 'vitest';
import { type Calibration } from '../calibration/document.ts';
import { screenPrepared } from '../screening/screen.ts';
import {
	handMade,
	pullShapes,
	twoBanks,
	vehicleWith,
	type Shape,
	calibrationWith
} from '../testing/hand-made.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { parseBlock, parseOperation } from './operations.ts';
import { DEFAULT_STRATEGY } from '../correction/strategy.ts';
import { propose } from './revise.ts';
import { withChanges } from './changes.ts';
import { timingToTakeOut } from './timing.ts';

const RPM = [2000, 2500, 3000, 3500, 4000, 4500];
const KPA = [30, 45, 60, 75, 90];

function calibration(value = 80): Calibration {
	const table = (id: string, v: number) => ({
		id,
		kind: 'map',
		x: { channel: 'rpm', unit: 'rpm', points: RPM },
		y: { channel: 'map', unit: 'kPa', points: KPA },
		values: KPA.map(() => RPM.map(() => v))
	});
	return calibrationWith([
		table('fuel.table', value),
		table('spark.table', 30),
		{ ...table('lambda.target', 1), id: 'lambda.target' }
	]);
}

/** Steady driving at one point, its mixture off by `percent`. */
function steady(percent: number, seconds = 30, more: Record<string, Shape> = {}) {
	return handMade(seconds, 20, {
		rpm: () => 3000,
		map: () => 60,
		baro: () => 100,
		tps: () => 25,
		ect: () => 88,
		'lambda.target': () => 1,
		'lambda.b1': () => 1 + percent / 100,
		knockRetard: () => 0,
		...more
	});
}

function proposed(log: ReturnType<typeof handMade>, vehicle: Vehicle = vehicleWith(), c = calibration()) {
	const input = prepare(log, { vehicle, calibrations: [c] });
	return propose([{ input, findings: screenPrepared(input).findings }]);
}
const at = (p: ReturnType<typeof propose>, item: string, x: number, y: number) =>
	p.changes.find((c) => c.item === item)?.cells.find((c) => c.x === x && c.y === y);

describe('fuel proposals', () => {
	it('adds the whole correction where fuel is missing', () => {
		const cell = at(proposed(steady(6)), 'fuel.table', 3000, 60)!;
		expect(cell).toMatchObject({ from: 80, basis: 'measured' });
		// All of it, but for what the day alone may be (0.7 % against 15 % that a table may be off).
		expect(cell.to).toBeCloseTo(80 * (1 + 0.06 * (0.15 ** 2 / (0.15 ** 2 + 0.007 ** 2))), 1);
	});
	it('takes away only what is certain: the correction less its standard deviation', () => {
		const cell = at(proposed(steady(-5)), 'fuel.table', 3000, 60)!;
		expect(cell.se).toBeGreaterThan(0.6);
		expect(cell.se).toBeLessThan(0.9);
		expect(cell.to).toBeCloseTo(80 * (1 - 0.05 + cell.se! / 100), 1);
	});
	it('takes at most 5 % away and adds at most 15 % in one revision', () => {
		expect(at(proposed(steady(-20)), 'fuel.table', 3000, 60)?.to).toBeCloseTo(76, 2);
		expect(at(proposed(steady(25)), 'fuel.table', 3000, 60)?.to).toBeCloseTo(92, 2);
	});
	it('counts trims as fuel that the table lacked', () => {
		const p = proposed(steady(0, 30, { 'stft.b1': () => 3, 'ltft.b1': () => 2 }));
		expect(at(p, 'fuel.table', 3000, 60)?.to).toBeCloseTo(80 * 1.03 * 1.02, 1);
	});
	it('says nothing of a cell with less than 10 samples', () => {
		expect(at(proposed(steady(8, 0.45)), 'fuel.table', 3000, 60)).toBeUndefined();
	});
	it('carries to a neighbour only what the field is sure of, and takes fuel out only between measured cells', () => {
		const one = proposed(steady(6));
		const beside = at(one, 'fuel.table', 3500, 60)!;
		expect(beside).toMatchObject({ basis: 'carried', samples: 0 });
		expect(beside.se!).toBeGreaterThan(at(one, 'fuel.table', 3000, 60)!.se!);
		expect(beside.se!).toBeLessThanOrEqual(3.1);
		expect(at(one, 'fuel.table', 4000, 60)).toBeUndefined();
		// Steady at two points a cell apart: what lies between is known.
		const two = (percent: number) =>
			proposed(
				steady(percent, 60, {
					rpm: (t) => (t % 20 < 10 ? 2500 : 3500),
					map: (t) => (t % 20 < 10 ? 59 : 61)
				})
			);
		expect(at(two(6), 'fuel.table', 3000, 60)).toMatchObject({ basis: 'carried', samples: 0 });
		expect(at(two(-4), 'fuel.table', 3000, 60)?.to).toBeLessThan(80);
		// Beyond both, adding may be carried and taking out may not.
		expect(at(two(-4), 'fuel.table', 4000, 60)).toBeUndefined();
	});
	it('takes the change of the highest measured load along upwards, never down', () => {
		expect(at(proposed(steady(6)), 'fuel.table', 3000, 75)).toMatchObject({
			basis: 'carried',
			upwards: true
		});
		expect(at(proposed(steady(-5)), 'fuel.table', 3000, 75)).toBeUndefined();
	});
	it('asks before it adds more than 8 % where no misfires are counted, and can be told to leave that out', () => {
		expect(at(proposed(steady(10)), 'fuel.table', 3000, 60)?.ask).toBe(true);
		expect(
			at(proposed(steady(10, 30, { 'misfire.cyl1': () => 0 })), 'fuel.table', 3000, 60)?.ask
		).toBeUndefined();
		const input = prepare(steady(10), { vehicle: vehicleWith(), calibrations: [calibration()] });
		const careful = propose([{ input, findings: [] }], { ...DEFAULT_STRATEGY, cautious: true });
		expect(at(careful, 'fuel.table', 3000, 60)).toBeUndefined();
	});
	it('proposes nothing where nothing has to change', () => {
		expect(proposed(steady(0.2))).toMatchObject({ changes: [], held: [] });
	});
	it('takes nothing out of loaded cells of a bank that nobody saw, adds all the same, and says so', () => {
		const car = twoBanks({
			sensors: { lambda: [{ channel: 'lambda.b1', kind: 'independent', site: 'bank1' }] }
		});
		const loaded = (percent: number) =>
			proposed(steady(percent, 30, { map: () => 90, knockRetard: () => 0 }), car);
		expect(loaded(-5).changes.filter((c) => c.item === 'fuel.table')).toEqual([]);
		expect(loaded(-5).held).toContainEqual(
			expect.objectContaining({ item: 'fuel.table', code: 'bank.unseen' })
		);
		expect(at(loaded(5), 'fuel.table', 3000, 90)?.to).toBeGreaterThan(83);
		// At part load it is asked.
		const light = proposed(steady(-5, 30, { map: () => 45 }), car);
		expect(at(light, 'fuel.table', 3000, 45)).toMatchObject({ ask: true });
	});
	it('takes nothing out of boosted cells on the word of a sensor without compensation; asks where nobody said', () => {
		const rich = (pressureCompensated?: boolean) => {
			const KPA_UP = [60, 100, 140, 180];
			const table = (id: string, v: number) => ({
				id,
				kind: 'map',
				x: { channel: 'rpm', points: RPM },
				y: { channel: 'map', points: KPA_UP },
				values: KPA_UP.map(() => RPM.map(() => v))
			});
			const c = calibrationWith([table('fuel.table', 80), table('lambda.target', 0.8)]);
			const sensor = { channel: 'lambda.b1', kind: 'factory', site: 'bank1' };
			const said = pressureCompensated === undefined ? sensor : { ...sensor, pressureCompensated };
			const log = steady(-5, 30, { map: () => 180, 'lambda.target': () => 0.8, 'lambda.b1': () => 0.76 });
			return proposed(log, vehicleWith({}, { sensors: { lambda: [said] } }), c);
		};
		expect(at(rich(false), 'fuel.table', 3000, 180)).toBeUndefined();
		expect(rich(false).held).toContainEqual(expect.objectContaining({ code: 'sensor.alone' }));
		expect(at(rich(), 'fuel.table', 3000, 180)).toMatchObject({ ask: true });
		const sure = at(rich(true), 'fuel.table', 3000, 180)!;
		expect(sure.to).toBeLessThan(80);
		expect(sure.ask).toBeUndefined();
	});
	it('holds all fuel while the supply is too low: the dead time goes with it', () => {
		const p = proposed(steady(5, 30, { vbat: () => 11.6 }));
		expect(p.changes).toEqual([]);
		expect(p.held[0]).toMatchObject({ item: 'fuel.table', code: 'volt.supply' });
	});
	it('says one number where the error is nothing but a level', () => {
		const c = calibration();
		c.items.push({ id: 'fuel.trim', kind: 'scalar', unit: '%', value: 1 });
		const wandering: Record<string, Shape> = {
			rpm: (t) => 3000 + 700 * Math.sin(t / 9),
			map: (t) => 60 + 14 * Math.sin(t / 13)
		};
		const p = proposed(steady(3, 400, wandering), vehicleWith(), c);
		expect(p.level!.pct).toBeCloseTo(3, 1);
		expect(p.level!.se).toBeLessThan(1);
		const offer = p.offers!.find((o) => o.item === 'fuel.trim')!;
		expect(offer.cells[0]).toMatchObject({ from: 1 });
		expect(offer.cells[0]!.to).toBeCloseTo(4, 1);
		// A hill on top of the level is none.
		const hill = (t: number) => 1.03 + 0.05 * Math.exp(-(((3000 + 700 * Math.sin(t / 9) - 3500) / 300) ** 2));
		expect(proposed(steady(0, 400, { ...wandering, 'lambda.b1': hill }), vehicleWith(), c).level).toBeNull();
	});
	it('starts from the value of the revision that the log was made with', () => {
		const cell = at(proposed(steady(6), vehicleWith(), calibration(50)), 'fuel.table', 3000, 60)!;
		expect(cell.from).toBe(50);
		expect(cell.to).toBeCloseTo(53, 1);
	});
	it('holds everything while a bank mismatch stands, and says so', () => {
		const p = proposed(steady(5, 30, { 'lambda.b2': () => 1.15 }), twoBanks());
		expect(p.changes.find((c) => c.item === 'fuel.table')).toBeUndefined();
		expect(p.held).toMatchObject([{ item: 'fuel.table', code: 'bank.mismatch' }]);
	});
	it('takes nothing away where two sensors of one bank differ by more than 5 %', () => {
		const sensors = {
			sensors: {
				lambda: [
					{ channel: 'lambda.b1', kind: 'factory', site: 'bank1' },
					{ channel: 'lambda.ref', kind: 'independent', site: 'bank1' }
				]
			}
		};
		const p = proposed(steady(-12, 30, { 'lambda.ref': () => 0.95 }), vehicleWith({}, sensors));
		expect(p.changes.find((c) => c.item === 'fuel.table')).toBeUndefined();
		expect(p.held[0]).toMatchObject({ code: 'sensor.lambda' });
	});
	it('leaves no loaded cell lean on either reading where a large learned trim may or may not act there', () => {
		const loaded = (ltft: number) => ({
			...pullShapes(5, 8),
			rpm: (t: number) => 2000 + Math.min(2500, Math.max(0, t - 5) * 300),
			map: () => 90,
			baro: () => 95,
			'lambda.target': () => 0.9,
			// 4 % lean by lambda alone.
			'lambda.b1': () => 0.936,
			'ltft.b1': () => ltft
		});
		const na = vehicleWith({ aspiration: 'na' });
		const cell = (p: ReturnType<typeof propose>) => at(p, 'fuel.table', 3500, 90)!;
		const plus = proposed(handMade(20, 20, loaded(6)), na);
		expect(cell(plus).to / 80).toBeCloseTo(1.04 * 1.06, 2);
		expect(plus.held.find((h) => h.reason.includes('learned trim'))!.reason).toContain('up to 6.0 % rich');
		// A trim that takes fuel out isn't believed to: the lean reading counts.
		expect(cell(proposed(handMade(20, 20, loaded(-6)), na)).to / 80).toBeCloseTo(1.04, 2);
		expect(plus.resetTrims).toBe(true);
		const known = proposed(
			handMade(20, 20, loaded(6)),
			vehicleWith({ aspiration: 'na' }, { controller: { learnedTrimAtFullLoad: 'applied' } })
		);
		expect(known.held.some((h) => h.reason.includes('learned trim'))).toBe(false);
	});
	it('takes nothing out of loaded cells while that is not known', () => {
		const rich = {
			...pullShapes(5, 8),
			rpm: (t: number) => 2000 + Math.min(2500, Math.max(0, t - 5) * 300),
			map: () => 90,
			baro: () => 95,
			'lambda.target': () => 0.9,
			'lambda.b1': () => 0.82,
			'ltft.b1': () => -3
		};
		const p = proposed(handMade(20, 20, rich), vehicleWith({ aspiration: 'na' }));
		expect(p.changes.find((c) => c.item === 'fuel.table')).toBeUndefined();
	});
	it('merges several logs of one revision', () => {
		const evidence = [steady(4), steady(8)].map((log) => {
			const input = prepare(log, { vehicle: vehicleWith(), calibrations: [calibration()] });
			return { input, findings: screenPrepared(input).findings };
		});
		expect(propose(evidence).changes[0]!.cells.find((c) => c.x === 3000 && c.y === 60)?.to).toBeCloseTo(
			80 * 1.06,
			1
		);
	});
});

describe('timing proposals', () => {
	it.each([
		[1.0, 2],
		[1.2, 2.5],
		[2.5, 3.5],
		[3.1, 4.5]
	])('a peak of %f° asks for %f° less', (peak, take) => {
		expect(timingToTakeOut(peak, 1)).toBe(take);
	});
	const knocking = (peak: number) =>
		steady(0, 30, {
			rpm: (t) => (t > 9 && t < 21 ? 3000 : 2900),
			map: () => 92,
			tps: () => 100,
			knockRetard: (t) => (t > 10 && t < 14 ? peak : 0)
		});
	it('takes peak + 1° out of the cell and half of it around, never adds', () => {
		const p = proposed(knocking(2));
		expect(at(p, 'spark.table', 3000, 90)).toMatchObject({ from: 30, to: 27, basis: 'measured' });
		expect(at(p, 'spark.table', 3500, 90)).toMatchObject({ to: 28.5, basis: 'carried' });
		expect(at(p, 'spark.table', 4000, 90)).toBeUndefined();
		expect(p.changes.find((c) => c.item === 'spark.table')!.cells.every((c) => c.to < c.from)).toBe(true);
	});
	it('starts from the newest revision: what it has less already stays, and nothing of the older comes back', () => {
		const then = calibration();
		const input = prepare(knocking(2), { vehicle: vehicleWith(), calibrations: [then] });
		const evidence = [{ input, findings: screenPrepared(input).findings }];
		const newest = (deg: number) =>
			withChanges(then, [{ item: 'spark.table', cells: [{ x: 3000, y: 90, to: deg }] }]);
		const from = (deg: number) =>
			at(propose(evidence, DEFAULT_STRATEGY, newest(deg)), 'spark.table', 3000, 90);
		// The log was made with 30° and wants 27.
		expect(from(28.5)).toMatchObject({ from: 28.5, to: 27 });
		expect(from(25)).toBeUndefined();
		expect(from(31)).toMatchObject({ from: 31, to: 27 });
	});
	it('takes at most 4° and asks for the cause beyond', () => {
		const p = proposed(knocking(5));
		expect(at(p, 'spark.table', 3000, 90)?.to).toBe(26);
		expect(p.held.some((h) => h.item === 'spark.table' && h.reason.includes('Find the cause'))).toBe(true);
	});
});

describe('applying changes', () => {
	it('changes only the named cells, and leaves the given calibration as it is', () => {
		const c = calibration();
		const next = withChanges(c, [{ item: 'fuel.table', cells: [{ x: 2500, y: 45, to: 81 }] }]);
		expect((next.items[0] as { values: number[][] }).values[1]).toEqual([80, 81, 80, 80, 80, 80]);
		expect((c.items[0] as { values: number[][] }).values[1]![1]).toBe(80);
	});
	it('refuses a cell that the table does not have', () => {
		expect(() =>
			withChanges(calibration(), [{ item: 'fuel.table', cells: [{ x: 1, y: 45, to: 81 }] }])
		).toThrow('no cell at 1 / 45');
	});
});

describe('what is typed over cells', () => {
	it.each([
		['14', 10, 14],
		['=14', 10, 14],
		['=-3', 10, -3],
		['+1.5', 10, 11.5],
		['-1,5', 10, 8.5],
		['+2%', 50, 51],
		['-2%', 50, 49],
		['*0.97', 100, 97],
		['/2', 10, 5]
	])('%s over %f gives %f', (text, v, expected) => {
		expect(parseOperation(text)!(v)).toBeCloseTo(expected, 9);
	});
	it.each(['', 'abc', '2%', '/0', '+', '1e9x'])('%j is nothing', (text) => {
		expect(parseOperation(text)).toBeNull();
	});
	it('reads a block from a spreadsheet', () => {
		expect(parseBlock('1\t2,5\r\n3\t4\n')).toEqual([
			[1, 2.5],
			[3, 4]
		]);
		expect(parseBlock('1\tx')).toBeNull();
	});
});
