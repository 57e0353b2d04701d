import { describe, expect, it } from 'vitest';
import type { Item } from '../calibration/document.ts';
import type { CellChange } from './proposal.ts';
import { regionsOf } from './regions.ts';

const item: Item = {
	id: 'fuel.table',
	kind: 'map',
	x: { channel: 'rpm', points: [1000, 2000, 3000, 4000, 5000] },
	y: { channel: 'map', points: [40, 80, 120, 160] },
	values: Array.from({ length: 4 }, () => [50, 50, 50, 50, 50])
};
const cell = (x: number, y: number, to: number, basis: CellChange['basis'] = 'measured'): CellChange => ({
	x,
	y,
	from: 50,
	to,
	basis,
	samples: 20,
	se: 0.3
});

describe('regions of a proposal', () => {
	it('what hangs together, corner to corner too, largest first; another sign is another region', () => {
		const regions = regionsOf(item, [
			cell(1000, 40, 49),
			cell(3000, 120, 52),
			cell(4000, 160, 54, 'carried'),
			cell(3000, 80, 48),
			cell(4000, 120, 53)
		]);
		expect(regions.map((r) => [r.cells.length, r.up])).toEqual([
			[3, true],
			[1, false],
			[1, false]
		]);
		expect(regions[0]).toMatchObject({ x: [3000, 4000], y: [120, 160], measured: 2, mean: 3 });
		expect(regions[0]!.meanPct).toBeCloseTo(6, 9);
	});
	it('goes by place where the axes tell it, in the order of driving, both signs apart', () => {
		const place = ({ y }: { y: number }) => (y >= 120 ? 'top' : 'cruise') as 'top' | 'cruise';
		const regions = regionsOf(
			item,
			[cell(3000, 120, 52), cell(1000, 40, 49), cell(1000, 160, 54), cell(5000, 40, 51)],
			place
		);
		expect(regions.map((r) => [r.place, r.up, r.cells.length])).toEqual([
			['cruise', true, 1],
			['cruise', false, 1],
			['top', true, 2]
		]);
	});
	it('every cell is in exactly one region', () => {
		const cells = item.y.points.flatMap((y, r) =>
			item.x.points.map((x, c) => cell(x, y, (r * 3 + c * 2) % 4 < 2 ? 51 : 49))
		);
		const regions = regionsOf(item, cells);
		const all = regions.flatMap((r) => r.cells.map((c) => `${c.x} ${c.y}`));
		expect(all).toHaveLength(cells.length);
		expect(new Set(all).size).toBe(cells.length);
		for (const r of regions) expect(new Set(r.cells.map((c) => c.to > c.from)).size).toBe(1);
	});
	it('a scalar is one region, nothing is none; an old value of zero has no percent', () => {
		const scalar: Item = { id: 'fuel.trim', kind: 'scalar', value: 0 };
		expect(regionsOf(scalar, [{ ...cell(0, 0, 2), from: 0 }])).toMatchObject([{ mean: 2, meanPct: null }]);
		expect(regionsOf(scalar, [])).toEqual([]);
		expect(regionsOf(item, [])).toEqual([]);
	});
});
