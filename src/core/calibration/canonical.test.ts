/** A calibration in canonical units and changes back in its own: the same physical answer whatever the tuner's program writes. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { calibrationWith } from '../testing/hand-made.ts';
import { absolute, canonical, inOwnUnits } from './canonical.ts';
import { compare } from './compare.ts';
import type { Calibration } from './document.ts';
import { decimalsOf, findCurve, findMap } from './lookup.ts';
import { effectiveFuel } from './effective-fuel.ts';

const PSI = 6.894757;
const LB_H = 0.1259979;
const RPM = [1000, 3000, 5000];
/** Fuel, target, boost and nitrous as a program of pounds and ratios writes them, or in canonical units. */
function tables(pounds: boolean, decimals?: number): Calibration {
	const kpa = (v: number) => (pounds ? v / PSI : v);
	const y = { channel: 'map', unit: pounds ? 'psi' : 'kPa', points: [50, 100, 180].map(kpa) };
	const x = { channel: 'rpm', points: RPM };
	const more = decimals === undefined ? {} : { decimals };
	return calibrationWith([
		{
			id: 'fuel.table',
			kind: 'map',
			unit: '%',
			x,
			y,
			values: [
				[60, 65, 70],
				[80, 85, 90],
				[85, 92, 95]
			]
		},
		{
			id: 'lambda.target',
			kind: 'map',
			unit: pounds ? 'AFR' : 'λ',
			x,
			y,
			values: [
				[1, 1, 1],
				[1, 0.95, 0.9],
				[0.88, 0.85, 0.82]
			].map((r) => r.map((v) => (pounds ? v * 14.7 : v))),
			...more
		},
		{
			id: 'boost.target',
			kind: 'curve',
			unit: pounds ? 'psi' : 'kPa',
			x,
			values: [110, 150, 180].map(kpa),
			...more
		},
		{
			id: 'fuel.nitrous',
			kind: 'curve',
			unit: pounds ? 'lb/h' : 'g/s',
			x: { channel: 'nitrousDuty', points: [0, 50, 100] },
			values: [0, 45, 90].map((v) => (pounds ? v : v * LB_H)),
			...more
		}
	]);
}

describe('canonical', () => {
	it('is the same document where it is canonical, and the same object each time', () => {
		const own = tables(false);
		expect(canonical(own)).toBe(own);
		const pounds = tables(true);
		expect(canonical(pounds)).toBe(canonical(pounds));
		expect(canonical(canonical(pounds))).toBe(canonical(pounds));
	});
	it('turns axes and values: psi, AFR, lb/h (1 psi = 6.894757 kPa, NIST SP 811)', () => {
		const [plain, turned] = [tables(false), canonical(tables(true))];
		for (const id of ['fuel.table', 'lambda.target']) {
			const [a, b] = [findMap(plain, id)!, findMap(turned, id)!];
			b.y.points.forEach((p, i) => expect(p).toBeCloseTo(a.y.points[i]!, 9));
			b.values.flat().forEach((v, i) => expect(v).toBeCloseTo(a.values.flat()[i]!, 9));
		}
		findCurve(turned, 'fuel.nitrous')!.values.forEach((v, i) =>
			expect(v).toBeCloseTo(findCurve(plain, 'fuel.nitrous')!.values[i]!, 9)
		);
	});
	it('leaves a gauge pressure one until there is air to count it from', () => {
		const gauge = calibrationWith([
			{
				id: 'boost.target',
				kind: 'curve',
				unit: 'psi gauge',
				x: { channel: 'rpm', points: RPM },
				values: [0, 10, 14.5]
			}
		]);
		expect(canonical(gauge).items[0]).toMatchObject({ unit: 'kPa gauge' });
		expect(findCurve(absolute(gauge, 85), 'boost.target')!.values[2]).toBeCloseTo(85 + 14.5 * PSI, 6);
	});
});

describe('a change in its own units', () => {
	it('comes back at its own points, rounded to its own decimals: 15 lb/h on 45 are 60', () => {
		const own = tables(true, 1);
		const from = 45 * LB_H;
		const [cell] = inOwnUnits(own, 'fuel.nitrous', [{ x: 50, y: 0, from, to: from + 15 * LB_H }]);
		expect(cell).toEqual({ x: 50, y: 0, from: 45, to: 60 });
	});
	it('is none where less than half of the last decimal comes out', () => {
		const own = tables(true, 1);
		const from = 45 * LB_H;
		expect(inOwnUnits(own, 'fuel.nitrous', [{ x: 50, y: 0, from, to: from + 0.04 * LB_H }])).toEqual([]);
	});
	it('is the same physical one in every unit, within half of the coarser last digit', () => {
		fc.assert(
			fc.property(
				fc.double({ min: 0.7, max: 1.3, noNaN: true }),
				fc.constantFrom(0, 1, 2),
				(share, place) => {
					const own = tables(true, 3);
					const plain = findCurve(canonical(own), 'boost.target')!;
					const from = plain.values[place]!;
					const [cell] = inOwnUnits(own, 'boost.target', [{ x: RPM[place]!, y: 0, from, to: from * share }]);
					const to = (cell?.to ?? findCurve(own, 'boost.target')!.values[place]!) * PSI;
					expect(Math.abs(to - from * share)).toBeLessThanOrEqual(0.5 * 0.001 * PSI + 1e-9);
				}
			)
		);
	});
	it('has decimals as fine as in the unit that the item is known in', () => {
		const of = (unit: string) =>
			decimalsOf({
				id: 'boost.target',
				kind: 'curve',
				unit,
				x: { channel: 'rpm', points: [1] },
				values: [1]
			});
		expect(of('bar')).toBe(of('kPa') + 2);
		expect(of('psi')).toBe(of('kPa') + 1);
	});
});

describe('two files that say the same in other units', () => {
	it('differ in nothing that matters, and give the same fuel', () => {
		const { changes, effectiveFuel: fuel } = compare(tables(false), tables(true));
		expect(changes.map((c) => c.class)).not.toContain('riskier');
		expect(changes.every((c) => c.class === 'neutral')).toBe(true);
		expect(fuel!.percent.flat().every((p) => Math.abs(p) < 0.01)).toBe(true);
		expect(effectiveFuel(tables(true), tables(false))!.y![2]).toBeCloseTo(180 / PSI, 6);
	});
	it('and where both are in one unit a small difference is still told', () => {
		const c = tables(true, 1);
		findCurve(c, 'boost.target')!.values[2]! += 0.04;
		expect(compare(tables(true, 1), c).changes).toMatchObject([{ item: 'boost.target', cellsChanged: 1 }]);
	});
	it('and one that asks for more boost is riskier in either', () => {
		const more = (pounds: boolean) => {
			const c = tables(pounds);
			findCurve(c, 'boost.target')!.values[2]! += pounds ? 3 / PSI : 3;
			return compare(tables(pounds), c).changes.map((x) => [x.item, x.class, x.cellsChanged]);
		};
		expect(more(true)).toEqual([['boost.target', 'riskier', 1]]);
		expect(more(false)).toEqual(more(true));
	});
});
