import fc from 'fast-check';
import * as reference from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import { finite, mad, median, quantile, runningMedian, theilSen, tQuantile90 } from './stats.ts';

const numbers = fc.array(fc.double({ min: -1e4, max: 1e4, noNaN: true }), { minLength: 1, maxLength: 60 });

describe('against the library simple-statistics', () => {
	it('median and median absolute deviation', () => {
		fc.assert(
			fc.property(numbers, (v) => {
				expect(median(v)).toBeCloseTo(reference.median(v), 8);
				expect(mad(v)).toBeCloseTo(reference.medianAbsoluteDeviation(v), 8);
			})
		);
	});
});

describe('quantile', () => {
	it('interpolates between order statistics (type 7)', () => {
		// Worked by hand: 4 values, q = 0.25 lies at 0.75 of the way from the first to the second.
		expect(quantile([1, 2, 3, 4], 0.25)).toBeCloseTo(1.75, 12);
		expect(quantile([1, 2, 3, 4], 1)).toBe(4);
	});
	it('skips what is missing and is not a number for nothing', () => {
		expect(median([Number.NaN, 3, 1, Number.NaN])).toBe(2);
		expect(median([])).toBeNaN();
		expect(finite([1, Number.NaN, Infinity])).toEqual(Float64Array.of(1));
	});
});

describe('Theil–Sen slope', () => {
	it('is the slope of a line, whatever one wild point does', () => {
		const x = Array.from({ length: 30 }, (_, i) => i);
		const y = x.map((v) => 2 + 0.7 * v);
		y[12] = 500;
		expect(theilSen(x, y)).toBeCloseTo(0.7, 9);
	});
	it('is the median of all pairwise slopes', () => {
		fc.assert(
			fc.property(fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 3, maxLength: 15 }), (y) => {
				const slopes: number[] = [];
				for (let i = 0; i < y.length; i++)
					for (let j = i + 1; j < y.length; j++) slopes.push((y[j]! - y[i]!) / (j - i));
				expect(
					theilSen(
						y.map((_, i) => i),
						y
					)
				).toBeCloseTo(reference.median(slopes), 9);
			})
		);
	});
});

describe('running median', () => {
	it('removes a single spike and keeps an edge', () => {
		const v = Float32Array.of(0, 0, 9, 0, 0, 5, 5, 5, 5);
		expect(Array.from(runningMedian(v, 3))).toEqual([0, 0, 0, 0, 0, 5, 5, 5, 5]);
	});
	it('is the median of each window of any width, holes left as they are', () => {
		const value = fc.oneof(
			{ weight: 7, arbitrary: fc.integer({ min: -9, max: 9 }) },
			{ weight: 1, arbitrary: fc.constant(Number.NaN) }
		);
		fc.assert(
			fc.property(fc.array(value, { minLength: 1, maxLength: 40 }), fc.constantFrom(3, 5, 9), (v, width) => {
				const half = (width - 1) / 2;
				const byHand = v.map((x, i) =>
					Number.isNaN(x)
						? x
						: reference.median(v.slice(Math.max(0, i - half), i + half + 1).filter((y) => !Number.isNaN(y)))
				);
				expect(Array.from(runningMedian(Float32Array.from(v), width))).toEqual(byHand);
			})
		);
	});
	it('looks only inside the runs that it is given', () => {
		const v = Float32Array.of(1, 2, 3, 4, 5, 6);
		const inside = runningMedian(v, 3, [{ from: 2, to: 3 }]);
		expect(Array.from(inside)).toEqual([Number.NaN, Number.NaN, 3, 4, Number.NaN, Number.NaN]);
	});
});

describe('the quantile of t', () => {
	it('is that of the tables (NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.2)', () => {
		for (const [df, t] of [
			[3, 1.638],
			[4, 1.533],
			[5, 1.476],
			[10, 1.372],
			[30, 1.31],
			[100, 1.29]
		] as const)
			expect(tQuantile90(df), `${df}`).toBeCloseTo(t, 2);
	});
});
