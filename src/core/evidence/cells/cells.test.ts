import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { AxisFinder, interpolateCurve, Surface } from '../../calibration/grid.ts';
import { cellStats, samplesByCell } from './stats.ts';

describe('axis look-up', () => {
	const axis = fc
		.uniqueArray(fc.integer({ min: -500, max: 9000 }), { minLength: 2, maxLength: 40 })
		.map((a) => a.sort((x, y) => x - y));
	it('finds the interval that a plain search finds', () => {
		fc.assert(
			fc.property(axis, fc.double({ min: -900, max: 9900, noNaN: true }), (points, v) => {
				const { i, t } = new AxisFinder(points).find(v);
				const held = Math.min(points[points.length - 1]!, Math.max(points[0]!, v));
				expect(points[i]! + t * (points[i + 1]! - points[i]!)).toBeCloseTo(held, 6);
				expect(t).toBeGreaterThanOrEqual(0);
				expect(t).toBeLessThanOrEqual(1);
			})
		);
	});
	it('reproduces a plane exactly and holds at the edges', () => {
		const x = [0, 10, 30];
		const y = [0, 5];
		const s = new Surface(
			x,
			y,
			y.map((b) => x.map((a) => 2 + 3 * a - b))
		);
		expect(s.at(17, 2)).toBeCloseTo(2 + 51 - 2, 9);
		expect(s.at(99, 99)).toBeCloseTo(2 + 90 - 5, 9);
		expect(interpolateCurve([0, 10], [1, 3], 5)).toBeCloseTo(2, 12);
	});
});

function stats(
	samples: { x: number; y: number; k: number }[],
	method: 'bilinear' | 'nearest',
	dt = 0.05,
	lag = 0.01
) {
	const n = samples.length;
	return cellStats({
		axes: { xChannel: 'rpm', x: [1000, 2000], yChannel: 'map', y: [50, 100] },
		x: Float32Array.from(samples, (s) => s.x),
		y: Float32Array.from(samples, (s) => s.y),
		value: Float32Array.from(samples, (s) => s.k),
		use: new Uint8Array(n).fill(1),
		timeS: Float64Array.from({ length: n }, (_, i) => i * dt),
		dtS: new Float64Array(n).fill(dt),
		lagS: new Float32Array(n).fill(lag),
		method
	});
}

describe('cell statistics', () => {
	it('weights a sample in the middle to a quarter in each corner', () => {
		const s = stats([{ x: 1500, y: 75, k: 1.1 }], 'bilinear');
		expect(Array.from(s.seconds)).toEqual([0.0125, 0.0125, 0.0125, 0.0125]);
		expect(s.mean[0]).toBeCloseTo(1.1, 6);
	});
	it('gives mean, scatter, effective samples and standard error as worked by hand', () => {
		// Weights 1 at the corner: mean 1.02, standard deviation of 1.00, 1.02, 1.04 is 0.02, standard error 0.02 / √3.
		const s = stats(
			[1.0, 1.02, 1.04].map((k) => ({ x: 1000, y: 50, k })),
			'bilinear'
		);
		expect(s.n[0]).toBeCloseTo(3, 9);
		expect(s.mean[0]).toBeCloseTo(1.02, 6);
		expect(s.spread[0]).toBeCloseTo(0.02, 6);
		expect(s.se[0]).toBeCloseTo(0.02 / Math.sqrt(3), 6);
	});
	it('counts samples within one lag of each other once in the standard error', () => {
		const many = Array.from({ length: 40 }, (_, i) => ({ x: 1000, y: 50, k: i % 2 ? 1.01 : 0.99 }));
		const free = stats(many, 'nearest', 0.05, 0.01).se[0]!;
		const tied = stats(many, 'nearest', 0.05, 0.2).se[0]!;
		// 40 samples of 0.05 s are 10 spans of 0.2 s: half the root.
		expect(tied / free).toBeCloseTo(2, 1);
	});
	it('drops an outlier beyond four median absolute deviations', () => {
		const many = Array.from({ length: 50 }, (_, i) => ({ x: 1000, y: 50, k: 1.03 + (i % 5) * 0.002 }));
		many[7]!.k = 1.6;
		const s = stats(many, 'nearest');
		expect(s.n[0]).toBe(49);
		expect(s.mean[0]).toBeCloseTo(1.034, 3);
	});
	it('leaves samples far beyond the axes out', () => {
		expect(stats([{ x: 4000, y: 75, k: 1.1 }], 'nearest').n[1]).toBe(0);
	});
});

describe('samples by cell', () => {
	it('are in order of time within each cell; those without a cell are nowhere', () => {
		const { start, samples } = samplesByCell(Int32Array.of(2, -1, 0, 2, 2, 0), 4);
		const cells = [0, 1, 2, 3].map((c) => Array.from(samples.subarray(start[c]!, start[c + 1]!)));
		expect(cells).toEqual([[2, 5], [], [0, 3, 4], []]);
	});
});
