import { inverse, Matrix, solve } from 'ml-matrix';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Banded } from './banded.ts';
import { BorderedFactor, inverted } from './bordered.ts';

/** A random positive definite band and the same as a full matrix. */
function made(n: number, width: number, seed: number) {
	let state = seed;
	const next = () => ((state = (state * 48271) % 2147483647) / 2147483647) * 2 - 1;
	const band = new Banded(n, width);
	for (let i = 0; i < n; i++) {
		for (let j = Math.max(0, i - width); j < i; j++) band.add(i, j, next());
		band.add(i, i, 2 * width + 2 + next());
	}
	const full = Matrix.zeros(n, n);
	for (let i = 0; i < n; i++)
		for (let j = Math.max(0, i - width); j <= i; j++) {
			const v = band.data[i * (width + 1) + j - i + width]!;
			full.set(i, j, v);
			full.set(j, i, v);
		}
	return { band, full, next };
}
const sizes = fc.record({
	n: fc.integer({ min: 1, max: 24 }),
	width: fc.integer({ min: 0, max: 6 }),
	seed: fc.integer({ min: 1, max: 1e6 })
});

describe('banded systems, against the general solver of ml-matrix', () => {
	it('gives the same solution and the same diagonal of the inverse', () => {
		fc.assert(
			fc.property(sizes, ({ n, width, seed }) => {
				const { band, full, next } = made(n, width, seed);
				const b = Float64Array.from({ length: n }, next);
				const expected = solve(full, Matrix.columnVector([...b])).to1DArray();
				band
					.times(b)
					.forEach((v, i) => expect(v).toBeCloseTo(full.mmul(Matrix.columnVector([...b])).get(i, 0), 9));
				const l = new Banded(n, width).plus(band).factor();
				const diagonal = inverse(full).diagonal();
				l.solve(b.slice()).forEach((v, i) => expect(v).toBeCloseTo(expected[i]!, 9));
				l.inverseDiagonal().forEach((v, i) => expect(v).toBeCloseTo(diagonal[i]!, 9));
			})
		);
	});
	it('gives both with dense columns at the side', () => {
		fc.assert(
			fc.property(sizes, fc.integer({ min: 1, max: 4 }), ({ n, width, seed }, m) => {
				const { band, full, next } = made(n, width, seed);
				const side = Array.from({ length: m }, () => Float64Array.from({ length: n }, () => 0.4 * next()));
				const corner = new Float64Array(m * m);
				for (let k = 0; k < m; k++) corner[k * m + k] = n + 3;
				const whole = Matrix.zeros(n + m, n + m);
				whole.setSubMatrix(full, 0, 0);
				for (let k = 0; k < m; k++) {
					whole.set(n + k, n + k, n + 3);
					for (let i = 0; i < n; i++) {
						whole.set(i, n + k, side[k]![i]!);
						whole.set(n + k, i, side[k]![i]!);
					}
				}
				const g = Float64Array.from({ length: n }, next);
				const h = Float64Array.from({ length: m }, next);
				const expected = solve(whole, Matrix.columnVector([...g, ...h])).to1DArray();
				const factor = new BorderedFactor({ band: new Banded(n, width).plus(band), side, corner });
				const got = factor.solve(g, h);
				[...got.band, ...got.border].forEach((v, i) => expect(v).toBeCloseTo(expected[i]!, 8));
				const mix = Array.from({ length: m }, () => Float64Array.from({ length: n }, next));
				const covariance = inverse(whole);
				factor.variances(mix).forEach((v, i) => {
					const row = Matrix.zeros(1, n + m);
					row.set(0, i, 1);
					for (let k = 0; k < m; k++) row.set(0, n + k, mix[k]![i]!);
					expect(v).toBeCloseTo(row.mmul(covariance).mmul(row.transpose()).get(0, 0), 8);
				});
			})
		);
	});
	it('refuses what is not positive definite', () => {
		const band = new Banded(2, 1);
		band.add(0, 0, 1);
		band.add(1, 1, 1);
		band.add(1, 0, 2);
		expect(() => band.factor()).toThrow('not positive definite');
		expect(() => inverted(Float64Array.of(1, 2, 2, 1), 2)).toThrow('not positive definite');
	});
});
