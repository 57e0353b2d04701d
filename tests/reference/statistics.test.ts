/**
 * Statistics and interpolation against libraries of the registry: simple-statistics (rank and linear correlation, quantiles),
 * ml-regression-theil-sen (robust slope), d3-scale (piecewise linear interpolation, held at the ends).
 */
import { scaleLinear } from 'd3-scale';
import fc from 'fast-check';
import { TheilSenRegression } from 'ml-regression-theil-sen';
import * as reference from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import { interpolateCurve, Surface } from '../../src/core/calibration/grid.ts';
import { estimateLag, mixtureSteps } from '../../src/core/evidence/lambda/lag-estimate.ts';
import { spearman, theilSen } from '../../src/core/stats/stats.ts';

const value = fc.integer({ min: -5000, max: 5000 }).map((v) => v / 10);
const pairs = fc
	.array(fc.tuple(value, value), { minLength: 3, maxLength: 60 })
	.filter((p) => new Set(p.map((q) => q[0])).size > 2 && new Set(p.map((q) => q[1])).size > 2);

describe('Theil–Sen against ml-regression-theil-sen', () => {
	it('gives the same slope', () => {
		fc.assert(
			fc.property(
				// Sizes with an odd number of pairs: of an even number the library takes one of the two middle slopes, we their mean.
				fc.uniqueArray(value, { minLength: 3, maxLength: 40 }).filter((a) => a.length % 4 >= 2),
				fc.array(value, { minLength: 40, maxLength: 40 }),
				(x, noise) => {
					const y = x.map((v, i) => 0.4 * v + noise[i]!);
					expect(theilSen(x, y)).toBeCloseTo(new TheilSenRegression(x, y).slope, 6);
				}
			)
		);
	});
});

describe('rank and shifted correlation against simple-statistics', () => {
	it('of ranks, without ties and with them', () => {
		fc.assert(
			fc.property(pairs, (p) => {
				const [x, y] = [p.map((q) => q[0]), p.map((q) => q[1])];
				// The library gives tied values different ranks; where there are none both agree.
				fc.pre(new Set(x).size === x.length && new Set(y).size === y.length);
				expect(spearman(x, y)).toBeCloseTo(reference.sampleRankCorrelation(x, y), 8);
			})
		);
		// Worked by hand: ranks 1, 2.5, 2.5, 4 against 1, 2, 3, 4 correlate with 4.5 / √(4.5 × 5).
		expect(spearman([1, 5, 5, 9], [1, 2, 3, 4])).toBeCloseTo(4.5 / Math.sqrt(4.5 * 5), 10);
	});
	it('puts the lag of a sensor where the correlation of the shifted series is highest', () => {
		// Steps at odd moments, answered 7 samples later: at a constant flow the estimate is the best shift of the whole series.
		const n = 1200;
		const timeS = Float64Array.from({ length: n }, (_, i) => i / 20);
		const stepsS = [4, 9, 13.5, 19, 22, 27.5, 33, 36, 41, 47, 52, 56];
		const at = (t: number) => (stepsS.filter((s) => s <= t).length % 2 ? 0.82 : 1);
		const scatter = (i: number) => 0.004 * (((i * 7919) % 1000) / 500 - 1);
		const goal = Float32Array.from(timeS, at);
		const lambda = Float32Array.from(timeS, (t, i) => at(t - 0.349) + scatter(i));
		const flow = new Float32Array(n).fill(0.1);
		const frame = { timeS, length: n, stepS: 0.05 };
		const lag = estimateLag(frame, lambda, mixtureSteps(frame, goal, new Uint8Array(n), flow));
		const scores = Array.from({ length: 20 }, (_, shift) =>
			reference.sampleCorrelation(
				Array.from(goal.subarray(0, n - shift), (v) => Math.log(v)),
				Array.from(lambda.subarray(shift), (v) => Math.log(v))
			)
		);
		const best = scores.indexOf(Math.max(...scores));
		expect(best).toBe(7);
		expect(lag.from).toBe('log');
		expect(Math.abs(lag.typicalS - best * 0.05)).toBeLessThan(0.05);
	});
});

describe('interpolation against d3-scale', () => {
	const axis = fc
		.uniqueArray(fc.integer({ min: 0, max: 9000 }), { minLength: 2, maxLength: 20 })
		.map((a) => a.sort((x, y) => x - y));
	it('of a curve, held at its ends', () => {
		fc.assert(
			fc.property(
				axis,
				fc.array(value, { minLength: 20, maxLength: 20 }),
				fc.double({ min: -500, max: 9900, noNaN: true }),
				(x, v, at) => {
					const values = v.slice(0, x.length);
					const scale = scaleLinear().domain(x).range(values).clamp(true);
					expect(interpolateCurve(x, values, at)).toBeCloseTo(scale(at), 6);
				}
			)
		);
	});
	it('of a surface: along x in each row, then along y', () => {
		fc.assert(
			fc.property(
				axis,
				axis,
				fc.array(value, { minLength: 400, maxLength: 400 }),
				fc.double({ min: -500, max: 9900, noNaN: true }),
				fc.double({ min: -500, max: 9900, noNaN: true }),
				(x, y, v, a, b) => {
					const rows = y.map((_, r) => x.map((_, c) => v[r * 20 + c]!));
					const alongX = rows.map((row) => scaleLinear().domain(x).range(row).clamp(true)(a));
					const expected = scaleLinear().domain(y).range(alongX).clamp(true)(b);
					expect(new Surface(x, y, rows).at(a, b)).toBeCloseTo(expected, 6);
				}
			)
		);
	});
});
