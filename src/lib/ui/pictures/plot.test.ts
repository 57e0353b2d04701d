import { describe, expect, it } from 'vitest';
import { areaOf, figuresOf, pathOf, rangeOf, scaleOf } from './plot';

const sx = scaleOf(0, 10, 0, 100);
const sy = scaleOf(0, 1, 50, 0);

describe('small pictures', () => {
	it('turn values into pixels, upwards where the scale runs upwards', () => {
		expect(sx.at(5)).toBe(50);
		expect(sy.at(1)).toBe(0);
		expect(scaleOf(3, 3, 0, 100).at(3)).toBe(50);
	});

	it('leave a gap where nothing is known, and show a value that stands alone', () => {
		expect(pathOf({ x: [0, 1, 2, 3, 4], y: [0, 1, null, 0.5, null] }, sx, sy)).toBe('M0 50L10 0M30 25h2');
	});

	it('don’t fill themselves with noise', () => {
		const line = { label: 'target', x: [0, 1], y: [0.82, 0.821] };
		const [low, high] = rangeOf([line], 0.08)!;
		expect(high - low).toBeCloseTo(0.08 * 1.24, 6);
		expect((low + high) / 2).toBeCloseTo(0.8205, 6);
		expect(rangeOf([{ ...line, y: [null, null] }], 0.08)).toBeNull();
	});

	it('shade between two lines only where both stand, and only within the place that is meant', () => {
		const a = { label: 'a', x: [0, 1, 2, 3], y: [1, 1, 1, 1] };
		const b = { label: 'b', x: [0, 1, 2, 3], y: [0, 0, 0, null] };
		expect(areaOf(a, b, 1, 3, sx, sy)).toBe('M10 0L20 0L20 50L10 50Z');
		expect(areaOf(a, b, 3, 3, sx, sy)).toBe('');
	});

	it('carry two or three round figures', () => {
		expect(figuresOf(0.79, 0.92)).toEqual([0.8, 0.85, 0.9]);
		expect(figuresOf(98, 205)).toEqual([100, 150, 200]);
	});
});
