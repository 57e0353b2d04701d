/**
 * A banded system with a few dense columns at its side (level, tilts, offsets of logs): solved by eliminating the band first (Schur
 * complement), so that the dense columns cost a back-substitution each.
 *
 * [ B  C ] [f]   [g]
 * [ Cᵀ D ] [q] = [h]
 */
import type { Banded } from './banded.ts';

export interface Bordered {
	/** Banded part, not yet factored. */
	band: Banded;
	/** C, column by column: column k is `side[k]`. */
	side: readonly Float64Array[];
	/** D, row by row, symmetric. */
	corner: Float64Array;
}

/** A dense symmetric positive definite matrix, inverted by Cholesky. @throws RangeError where it isn't positive definite */
export function inverted(a: Float64Array, m: number): Float64Array {
	const l = a.slice();
	for (let i = 0; i < m; i++)
		for (let j = 0; j <= i; j++) {
			let sum = l[i * m + j]!;
			for (let k = 0; k < j; k++) sum -= l[i * m + k]! * l[j * m + k]!;
			if (i > j) l[i * m + j] = sum / l[j * m + j]!;
			else if (sum > 0) l[i * m + i] = Math.sqrt(sum);
			else throw new RangeError('the system is not positive definite');
		}
	const out = new Float64Array(m * m);
	for (let c = 0; c < m; c++) {
		const x = new Float64Array(m);
		x[c] = 1;
		for (let i = 0; i < m; i++) {
			for (let k = 0; k < i; k++) x[i]! -= l[i * m + k]! * x[k]!;
			x[i]! /= l[i * m + i]!;
		}
		for (let i = m - 1; i >= 0; i--) {
			for (let k = i + 1; k < m; k++) x[i]! -= l[k * m + i]! * x[k]!;
			x[i]! /= l[i * m + i]!;
		}
		for (let i = 0; i < m; i++) out[i * m + c] = x[i]!;
	}
	return out;
}

export class BorderedFactor {
	private readonly l: Banded;
	/** B⁻¹ C, column by column. */
	private readonly w: Float64Array[];
	/** Covariance of the border: the inverse of the Schur complement, row by row. */
	readonly cornerCovariance: Float64Array;
	private readonly m: number;

	constructor(private readonly system: Bordered) {
		this.l = system.band.factor();
		this.m = system.side.length;
		this.w = system.side.map((c) => this.l.solve(c.slice()));
		const schur = system.corner.slice();
		for (let r = 0; r < this.m; r++)
			for (let c = 0; c < this.m; c++) schur[r * this.m + c]! -= dot(system.side[r]!, this.w[c]!);
		this.cornerCovariance = inverted(schur, this.m);
	}

	/** @returns the band's unknowns and the border's */
	solve(g: Float64Array, h: Float64Array): { band: Float64Array; border: Float64Array } {
		const { m, w, cornerCovariance: s } = this;
		const band = this.l.solve(g.slice());
		const rest = Float64Array.from(h, (v, r) => v - dot(this.system.side[r]!, band));
		const border = Float64Array.from({ length: m }, (_, r) =>
			rest.reduce((sum, v, c) => sum + s[r * m + c]! * v, 0)
		);
		for (let k = 0; k < m; k++) for (let i = 0; i < band.length; i++) band[i]! -= w[k]![i]! * border[k]!;
		return { band, border };
	}

	/**
	 * Variance of f_i + c_i · q for every i.
	 * @param mix coefficients of the border per unknown, column by column
	 */
	variances(mix: readonly Float64Array[]): Float64Array {
		const { m, w, cornerCovariance: s } = this;
		const out = this.l.inverseDiagonal();
		const v = new Float64Array(m);
		for (let i = 0; i < out.length; i++) {
			for (let k = 0; k < m; k++) v[k] = (mix[k]?.[i] ?? 0) - w[k]![i]!;
			let sum = 0;
			for (let r = 0; r < m; r++) for (let c = 0; c < m; c++) sum += v[r]! * s[r * m + c]! * v[c]!;
			out[i]! += sum;
		}
		return out;
	}
}

/** Σ a b. */
export function dot(a: Float64Array, b: Float64Array): number {
	let sum = 0;
	for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
	return sum;
}
