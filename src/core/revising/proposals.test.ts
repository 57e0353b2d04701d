/** Proposals beyond the plain fuel table: air meter curve, blended tables, cylinders, nitrous, the stop-gap, the strategy. */
import { prepare } from '../evidence/prepare.ts';
import { describe, expect, it } from 'vitest';
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import { screenPrepared } from '../screening/screen.ts';
import { handMade, pullShapes, twoBanks, vehicleWith, type Shape } from '../testing/hand-made.ts';
import { addedTrimPct } from './cylinders.ts';
import { nitrousAdder, nitrousView, withoutDips } from './nitrous.ts';
import { propose } from './revise.ts';
import { withChanges } from './changes.ts';
import { DEFAULT_STRATEGY } from '../correction/strategy.ts';

const x = { channel: 'rpm', points: [1000, 2500, 4000, 5500, 7000] };
const y = { channel: 'map', points: [45, 100, 170] };
const map = (id: string, v: number) => ({
	id,
	kind: 'map',
	x,
	y,
	values: y.points.map(() => x.points.map(() => v))
});
const made = (items: object[], more: object = {}): Calibration =>
	parseCalibration({ schema: 'tanto.calibration/1', name: 'c', fuelModel: 'speed-density', items, ...more });
function proposed(
	c: Calibration,
	shapes: Record<string, Shape>,
	vehicle = vehicleWith(),
	strategy = DEFAULT_STRATEGY
) {
	const input = prepare(handMade(90, 20, { ...pullShapes(), ...shapes }), { vehicle, calibrations: [c] });
	return propose([{ input, findings: screenPrepared(input).findings }], strategy);
}
const inPull = (t: number) => t >= 10 && t < 16;
const cruise = pullShapes()['lambda.target']!;

describe('the curve of an air meter', () => {
	const curve = {
		id: 'maf.curve',
		kind: 'curve',
		x: { channel: 'mafFrequency', points: [1000, 2000, 3000, 4000] },
		values: [10, 40, 90, 160]
	};
	const c = made([curve], { fuelModel: 'maf' });
	it('is corrected on its own axis, where the frequency was', () => {
		const p = proposed(c, { mafFrequency: () => 2000, 'lambda.b1': (t) => cruise(t) * 1.04 });
		const change = p.changes.find((k) => k.item === 'maf.curve')!;
		const at = change.cells.find((k) => k.x === 2000)!;
		expect(at.to).toBeCloseTo(40 * 1.04, 2);
		expect(at).toMatchObject({ basis: 'measured', y: 0 });
		expect(change.cells.filter((k) => k.basis === 'measured')).toHaveLength(1);
		expect(withChanges(c, p.changes).items[0]).toMatchObject({
			values: expect.arrayContaining([at.to]) as number[]
		});
	});
	it('is held with its reason when the frequency is not logged', () => {
		expect(proposed(c, {}).held[0]).toMatchObject({
			item: 'maf.curve',
			reason: expect.stringContaining('mafFrequency') as string
		});
	});
});

describe('tables that blend by cam position', () => {
	const c = made([map('fuel.table@105', 80), map('fuel.table@115', 90)], {
		blends: [
			{
				item: 'fuel.table',
				channel: 'camIntake',
				points: [105, 115],
				members: ['fuel.table@105', 'fuel.table@115']
			}
		]
	});
	const cell = (p: ReturnType<typeof proposed>, item: string) =>
		p.changes.find((k) => k.item === item)?.cells.find((k) => k.x === 2500 && k.y === 45);
	it('get the full correction in both members; the share only weights how much a sample says', () => {
		const p = proposed(c, { camIntake: () => 107.5, 'lambda.b1': (t) => cruise(t) * 1.05 });
		expect(cell(p, 'fuel.table@105')!.to).toBeCloseTo(84, 1);
		expect(cell(p, 'fuel.table@115')!.to).toBeCloseTo(94.5, 1);
	});
	it('take a member along that never had a share: both stand at the same place of one engine', () => {
		const p = proposed(c, { camIntake: () => 105, 'lambda.b1': (t) => cruise(t) * 1.05 });
		expect(cell(p, 'fuel.table@105')!.to).toBeCloseTo(84, 1);
		const other = cell(p, 'fuel.table@115')!;
		expect(other.to).toBeGreaterThan(90);
		expect(other.to).toBeLessThanOrEqual(94.5);
		expect(other.se!).toBeGreaterThan(cell(p, 'fuel.table@105')!.se!);
	});
	it('weight samples by the share where the two ends want different fuel', () => {
		// First half at the first member and 4 % lean, second half at the second and 8 % lean.
		const p = proposed(c, {
			camIntake: (t) => (t < 45 ? 106 : 114),
			'lambda.b1': (t) => cruise(t) * (t < 45 ? 1.04 : 1.08)
		});
		expect(100 * (cell(p, 'fuel.table@105')!.to / 80 - 1)).toBeLessThan(5.2);
		expect(100 * (cell(p, 'fuel.table@115')!.to / 90 - 1)).toBeGreaterThan(7);
	});
});

describe('fuel trims of cylinders', () => {
	it('add to what is in the table (common practice)', () => {
		expect(addedTrimPct(3, 2)).toBe(5);
		expect(addedTrimPct(-2, 2)).toBe(0);
	});
	const trims = {
		id: 'fuel.cylTrim',
		kind: 'curve',
		x: { channel: 'cylinder', points: [1, 2, 3, 4] },
		values: [0, 3, 0, -2],
		decimals: 1
	};
	const cylinders = (off: number[]): Record<string, Shape> =>
		Object.fromEntries(
			off.map((o, i) => [`lambda.cyl${i + 1}`, (t: number) => (inPull(t) ? 0.8 * (1 + o / 100) : 1)])
		);
	it('move every cylinder towards the median of the set', () => {
		const p = proposed(made([map('fuel.table', 80), trims]), cylinders([0, 4, 0, 4]), vehicleWith());
		const cells = p.changes.find((c) => c.item === 'fuel.cylTrim')!.cells;
		// The median lies halfway: 1 and 3 are 2 % rich of it, 2 and 4 are 2 % lean of it, give or take.
		expect(cells.every((k) => Math.sign(k.to - k.from) === (k.x % 2 ? -1 : 1))).toBe(true);
	});
	it('give a lean one what it lacks, at once', () => {
		const p = proposed(made([map('fuel.table', 80), trims]), cylinders([0, 2, 0, 0]));
		expect(p.changes.find((c) => c.item === 'fuel.cylTrim')!.cells).toMatchObject([{ x: 2, from: 3, to: 5 }]);
	});
	it('leave a set alone that agrees within one percent, and one that nobody measured', () => {
		expect(
			proposed(made([trims]), cylinders([0, 0.6, -0.5, 0])).changes.some((c) => c.item === 'fuel.cylTrim')
		).toBe(false);
		expect(proposed(made([trims]), {}).changes.some((c) => c.item === 'fuel.cylTrim')).toBe(false);
	});
});

describe('dry nitrous', () => {
	it('adder of 215 + 70 against 302 lb/h is 17 short: 87 (common practice)', () => {
		expect(nitrousAdder(70, 215, 302)).toBe(87);
	});
	const curve = {
		id: 'fuel.nitrous',
		kind: 'curve',
		x: { channel: 'nitrousDuty', points: [0, 50, 100] },
		values: [0, 8, 70 * 0.126],
		decimals: 2
	};
	const flows = (lambda: number): Record<string, Shape> => ({
		nitrousDuty: (t) => (inPull(t) ? 100 : 0),
		fuelFlowBase: () => 215 * 0.126,
		nitrousFuel: (t) => (inPull(t) ? 70 * 0.126 : 0),
		fuelFlow: (t) => (inPull(t) ? 302 * 0.126 : 215 * 0.126),
		'lambda.b1': (t) => (inPull(t) ? 0.8 * lambda : 1)
	});
	/** The same pull again without nitrous, from 30 s on; its correction proves the base. */
	const withBase = (k: number): Record<string, Shape> => {
		const first = pullShapes(10);
		const again = pullShapes(30);
		const both = Object.fromEntries(
			Object.keys(first).map((id) => [id, (t: number) => (t < 25 ? first[id]!(t) : again[id]!(t))])
		);
		return {
			...both,
			...flows(1),
			'lambda.b1': (t) => both['lambda.target']!(t) * (t >= 30 && t < 36 ? k : 1)
		};
	};
	it('corrects the point of the solenoid duty that ran', () => {
		const p = proposed(made([curve]), withBase(1));
		expect(p.changes.find((c) => c.item === 'fuel.nitrous')!.cells).toMatchObject([
			{ x: 100, y: 0, to: Number((87 * 0.126).toFixed(2)) }
		]);
	});
	it.each([
		['the base is 3 % off there', withBase(1.03)],
		['the region was never driven without it', flows(1)]
	])('holds back while %s: the error of the base would go into the adder', (_, shapes) => {
		const p = proposed(made([curve]), shapes);
		expect(p.changes.some((c) => c.item === 'fuel.nitrous')).toBe(false);
		expect(p.held.find((h) => h.item === 'fuel.nitrous')!.reason).toContain('not proven');
	});
	it('each solenoid duty stands with its adder before and after, and its timing against the shot', () => {
		const input = prepare(handMade(90, 20, { ...pullShapes(), ...withBase(1) }), {
			vehicle: vehicleWith({}, { nitrous: { shotHp: 200, kind: 'dry' } }),
			calibrations: [made([curve, { id: 'spark.nitrous', kind: 'scalar', value: -9 }])]
		});
		const view = nitrousView(input)!;
		// 2° per 50 hp are 8 for a shot of 200; 9 is what one takes (common practice).
		expect(view).toMatchObject({ shotHp: 200, neededDeg: 8 });
		expect(view.rows.map((r) => [r.dutyPct, r.outDeg])).toEqual([
			[0, 9],
			[50, 9],
			[100, 9]
		]);
		const [, half, full] = view.rows;
		expect(half).toMatchObject({ beforeGs: 8, afterGs: 8, why: 'nitrous was never on here' });
		expect(full).toMatchObject({ why: '' });
		expect(full!.beforeGs / 0.126).toBeCloseTo(70, 1);
		expect(full!.afterGs / 0.126).toBeCloseTo(87, 0);
		expect(full!.flowGs! / 0.126).toBeCloseTo(302, 1);
		expect(nitrousView({ ...input, calibration: null })).toBeNull();
	});
	it('the curve stays a curve: no dip between raised points, a flat end goes along, nothing comes out for others', () => {
		const wide = {
			...curve,
			kind: 'curve' as const,
			x: { channel: 'nitrousDuty', points: [0, 25, 50, 75, 100] },
			values: [0, 4, 8, 12, 12]
		};
		const seen = [false, true, true, true, false];
		expect(withoutDips(wide, [0, 6, 8, 13, 12], seen)).toEqual([0, 6, 9.5, 13, 13]);
		// The end was measured and is right: it stays.
		expect(withoutDips(wide, [0, 6, 10.5, 13, 12], [false, true, true, true, true])).toEqual([
			0, 6, 10.5, 13, 12
		]);
		expect(withoutDips(wide, [0, 3.8, 8, 11.5, 12], seen)).toEqual([0, 3.8, 8, 11.5, 12]);
	});
	it('holds back while the mixture missed its target', () => {
		const p = proposed(made([curve]), flows(1.05));
		expect(p.changes.some((c) => c.item === 'fuel.nitrous')).toBe(false);
		expect(p.held.find((h) => h.item === 'fuel.nitrous')!.reason).toContain('never met its target');
	});
});

describe('banks that disagree', () => {
	const apart: Record<string, Shape> = {
		'lambda.b1': cruise,
		'lambda.b2': (t) => cruise(t) * 1.1
	};
	it('hold everything; what the leaner one wants is offered, not proposed', () => {
		const p = proposed(made([map('fuel.table', 80)]), apart, twoBanks());
		expect(p.changes).toEqual([]);
		expect(p.held[0]!.code).toBe('bank.mismatch');
		const offer = p.offers![0]!;
		expect(offer.reason).toContain('Stop-gap');
		expect(offer.cells.find((c) => c.x === 2500 && c.y === 45)!.to).toBeCloseTo(88, 1);
		expect(offer.cells.every((c) => c.to > c.from)).toBe(true);
	});
	it('offer nothing while they agree', () => {
		expect(
			proposed(made([map('fuel.table', 80)]), { 'lambda.b2': cruise }, twoBanks()).offers
		).toBeUndefined();
	});
});

describe('the strategy', () => {
	const lean = { 'lambda.b1': (t: number) => cruise(t) * 1.1 };
	const c = made([map('fuel.table', 80)]);
	const at = (s: object, shapes: Record<string, Shape> = lean) =>
		proposed(c, shapes, vehicleWith(), { ...DEFAULT_STRATEGY, ...s }).changes[0]?.cells.find(
			(k) => k.x === 2500 && k.y === 45
		)?.to;
	it('applies the share, the clamps and the carrying over that it names', () => {
		expect(at({})).toBeCloseTo(88, 1);
		expect(at({ addShare: 0.5 })).toBeCloseTo(84, 1);
		expect(at({ maxPct: 4 })).toBeCloseTo(83.2, 1);
		const rich = { 'lambda.b1': (t: number) => cruise(t) * 0.96 };
		const all = 100 * (1 - at({}, rich)! / 80);
		expect(all).toBeGreaterThan(3);
		expect(all).toBeLessThan(3.5);
		expect(100 * (1 - at({ removeShare: 0.5 }, rich)! / 80)).toBeCloseTo(all / 2, 1);
		expect(at({ maxRemovePct: 3 }, rich)).toBeCloseTo(80 * 0.97, 1);
		expect(at({ minSeconds: 89 })).toBeUndefined();
		const carried = (carry: boolean) =>
			proposed(c, lean, vehicleWith(), { ...DEFAULT_STRATEGY, carry }).changes[0]!.cells.filter(
				(k) => k.basis === 'carried'
			).length;
		expect(carried(true)).toBeGreaterThan(0);
		expect(carried(false)).toBe(0);
	});
});
