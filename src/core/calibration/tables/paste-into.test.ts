import { describe, expect, it } from 'vitest';
import type { CurveItem, MapItem } from '../document.ts';
import { pasteInto } from './paste-into.ts';

const item: MapItem = {
	id: 'fuel.table',
	kind: 'map',
	x: { channel: 'rpm', points: [1000, 2000, 3000] },
	y: { channel: 'map', points: [40, 80] },
	values: [
		[10, 20, 30],
		[40, 50, 60]
	]
};
const at = (p: ReturnType<typeof pasteInto>, x: number, y: number) =>
	p.cells.find((c) => c.x === x && c.y === y)?.to;

describe('a block into a table', () => {
	it.each([
		['rising', '\t1000\t2000\t3000\n40\t11\t21\t31\n80\t41\t51\t61\n'],
		['falling', '\t1000\t2000\t3000\n80\t41\t51\t61\n40\t11\t21\t31\n'],
		['turned', '\t40\t80\n1000\t11\t41\n2000\t21\t51\n3000\t31\t61\n']
	])('lands where its axes say, %s', (_, text) => {
		const p = pasteInto(item, text);
		expect(p).toMatchObject({ how: 'whole', greatest: 1 });
		expect([at(p, 1000, 40), at(p, 3000, 80)]).toEqual([11, 61]);
	});
	it('may be a part of it', () => {
		const p = pasteInto(item, '\t2000\t3000\n80\t55\t66\n');
		expect(p.how).toBe('part');
		expect(p.cells).toEqual([
			{ x: 2000, y: 80, to: 55 },
			{ x: 3000, y: 80, to: 66 }
		]);
	});
	it('on other axes is read off between its points, within them, and the greatest change is stated', () => {
		const p = pasteInto(item, '\t500\t3500\n40\t5\t65\n80\t35\t95\n');
		expect(p.how).toBe('resampled');
		expect(at(p, 2000, 40)).toBe(35);
		expect(p.greatest).toBe(25);
		expect(pasteInto(item, '\t1500\t2500\n40\t1\t2\n80\t3\t4\n').cells.map((c) => c.x)).toEqual([2000, 2000]);
	});
	it('without axes is taken where it is the size of the table, as it is shown', () => {
		const p = pasteInto(item, '41\t51\t61\n11\t21\t31\n');
		expect([at(p, 1000, 80), at(p, 1000, 40)]).toEqual([41, 11]);
		expect(p.notes[0]).toContain('the first row is taken as the highest');
	});
	it.each([
		['another size', '1\t2\n3\t4\n5\t1\n', '3 × 2 cells without axes, the table has 2 × 3'],
		['surplus', '1\t2\t3\t4\n5\t6\t7\t9\n', '2 × 4 cells without axes'],
		['nothing in common', '\t9000\t9500\n40\t1\t2\n80\t3\t4\n', 'none of its points lies within'],
		['values', 'Rev limit\t7000\n', 'single values were pasted']
	])('of %s is refused, nothing is cut off', (_, text, why) => {
		expect(() => pasteInto(item, text)).toThrow(why);
	});
	it('goes into a curve as well', () => {
		const curve: CurveItem = {
			id: 'c',
			kind: 'curve',
			x: { channel: 'vbat', points: [8, 10, 12] },
			values: [3, 2, 1]
		};
		expect(pasteInto(curve, '12\t1.1\n10\t2.1\n8\t3.1\n').cells).toEqual([
			{ x: 8, y: 0, to: 3.1 },
			{ x: 10, y: 0, to: 2.1 },
			{ x: 12, y: 0, to: 1.1 }
		]);
	});
});
