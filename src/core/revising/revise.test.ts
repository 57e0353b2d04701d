import { prepare } from '../evidence/prepare.ts';
import { describe, expect, it } from 'vitest';
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import { screenPrepared } from '../screening/screen.ts';
import { handMade, pullShapes, twoBanks, vehicleWith, type Shape } from '../testing/hand-made.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { carry } from './carry.ts';
import { parseBlock, parseOperation } from './operations.ts';
import { propose, withChanges } from './revise.ts';
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
	return parseCalibration({
		schema: 'tanto.calibration/1',
		name: 'c',
		fuelModel: 'speed-density',
		items: [
			table('fuel.table', value),
			table('spark.table', 30),
			{ ...table('lambda.target', 1), id: 'lambda.target' }
		]
	});
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
		expect(at(proposed(steady(6)), 'fuel.table', 3000, 60)).toMatchObject({
			from: 80,
			to: 84.8,
			basis: 'measured'
		});
	});
	it('takes 70 % of the correction away where there is too much', () => {
		expect(at(proposed(steady(-5)), 'fuel.table', 3000, 60)?.to).toBeCloseTo(80 * (1 - 0.05 * 0.7), 2);
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
	it('carries into neighbours within two cells, fading and marked, and no further', () => {
		const p = proposed(steady(6));
		const one = at(p, 'fuel.table', 3500, 60)!;
		const two = at(p, 'fuel.table', 4000, 60)!;
		expect(one).toMatchObject({ basis: 'carried', samples: 0 });
		expect(one.to).toBeLessThan(84.8);
		expect(two.to).toBeLessThan(one.to);
		expect(two.to).toBeGreaterThan(80);
		expect(at(p, 'fuel.table', 4500, 60)).toBeUndefined();
	});
	it('starts from the value of the revision that the log was made with', () => {
		expect(at(proposed(steady(6), vehicleWith(), calibration(50)), 'fuel.table', 3000, 60)).toMatchObject({
			from: 50,
			to: 53
		});
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
	it('holds loaded cells when a large learned trim may or may not be applied there', () => {
		const loaded = {
			...pullShapes(5, 8),
			rpm: (t: number) => 2000 + Math.min(2500, Math.max(0, t - 5) * 300),
			map: () => 90,
			baro: () => 95,
			'lambda.target': () => 0.9,
			'lambda.b1': () => 0.95,
			'ltft.b1': () => 6
		};
		const open = proposed(handMade(20, 20, loaded), vehicleWith({ aspiration: 'na' }));
		expect(open.held.some((h) => h.reason.includes('learned trim'))).toBe(true);
		const known = proposed(
			handMade(20, 20, loaded),
			vehicleWith({ aspiration: 'na' }, { controller: { learnedTrimAtFullLoad: 'applied' } })
		);
		expect(known.held.some((h) => h.reason.includes('learned trim'))).toBe(false);
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
	it('takes at most 4° and asks for the cause beyond', () => {
		const p = proposed(knocking(5));
		expect(at(p, 'spark.table', 3000, 90)?.to).toBe(26);
		expect(p.held.some((h) => h.item === 'spark.table' && h.reason.includes('Find the cause'))).toBe(true);
	});
});

describe('carrying', () => {
	it('is the mean of its neighbours everywhere between what is proven', () => {
		const fixed = new Float64Array(49).fill(Number.NaN);
		fixed[24] = 0.06;
		fixed[26] = 0.02;
		const out = carry(fixed, 7, 7);
		for (const c of [23, 25, 17, 31]) {
			const around = [c - 1, c + 1, c - 7, c + 7].map((k) => (Number.isFinite(out[k]!) ? out[k]! : 0));
			expect(out[c]).toBeCloseTo(around.reduce((s, v) => s + v, 0) / 4, 4);
		}
		expect(out[0]).toBeNaN();
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
