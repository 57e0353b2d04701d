import { describe, expect, it } from 'vitest';
import { AxisFinder, Surface } from './grid.ts';

/** Any values, the same in every run. */
function numbers(count: number, from: number, to: number): Float32Array {
	let seed = 7;
	return Float32Array.from({ length: count }, () => {
		seed = (seed * 1103515245 + 12345) % 2147483648;
		return from + ((to - from) * seed) / 2147483648;
	});
}

describe('places of a whole column', () => {
	it.each([
		['even', [500, 1000, 1500, 2000]],
		['uneven', [500, 510, 1900, 7000]],
		['of one point', [800]],
		['of two points', [800, 900]]
	])('are those of its values one by one on an axis that is %s', (_, points) => {
		const finder = new AxisFinder(points);
		const values = numbers(500, 0, 8000);
		values.set([...points, Number.NaN, -Infinity, Infinity]);
		const { at, t } = finder.along(values);
		values.forEach((v, k) => {
			if (v !== v) return expect(t[k]).toBeNaN();
			const place = finder.find(v);
			expect([at[k], t[k]]).toEqual([place.i, place.t]);
		});
	});
});

describe('a table along two columns', () => {
	it.each([
		['ordinary', [500, 1000, 3000], [20, 60, 100, 140]],
		['of one row', [500, 1000, 3000], [50]],
		['of one column', [900], [20, 60, 100]],
		['of one cell', [900], [50]]
	])('gives what it gives value by value: %s', (_, x, y) => {
		const rows = y.map((b, r) => x.map((a, c) => a / 100 + b / 10 + r * c));
		const surface = new Surface(x, y, rows);
		const rpm = numbers(400, 0, 4000);
		const map = numbers(400, 0, 160).reverse();
		rpm[3] = Number.NaN;
		map[5] = Number.NaN;
		const along = surface.along(new AxisFinder(x).along(rpm), new AxisFinder(y).along(map));
		for (let k = 0; k < rpm.length; k++) {
			if (k === 3 || k === 5) expect(along[k]).toBeNaN();
			else expect(along[k]).toBe(Math.fround(surface.at(rpm[k]!, map[k]!)));
		}
	});
	it('holds its edges, and gives its own cells back', () => {
		const surface = new Surface(
			[1000, 2000],
			[50, 100],
			[
				[10, 20],
				[30, 40]
			]
		);
		expect(surface.at(0, 0)).toBe(10);
		expect(surface.at(9000, 300)).toBe(40);
		expect(surface.at(1500, 75)).toBe(25);
	});
});
