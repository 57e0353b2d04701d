/**
 * Symmetric, positive definite systems of which only a band beside the diagonal is filled: what the prior and the samples of a table make,
 * where every node is tied to its neighbours only. Factored by Cholesky; the diagonal of the inverse comes from the recursion of
 * Takahashi, Fagan and Chin (1973), which never leaves the band.
 */

export class Banded {
	/** Lower band, row by row: entry (i, j) with i − width ≤ j ≤ i stands at i · (width + 1) + (j − i + width). */
	readonly data: Float64Array;

	/** @param n unknowns @param width how far below the diagonal entries may stand */
	constructor(
		readonly n: number,
		readonly width: number
	) {
		this.data = new Float64Array(n * (width + 1));
	}

	/** Adds to (i, j) and, by symmetry, (j, i). */
	add(i: number, j: number, v: number): void {
		const [row, column] = i >= j ? [i, j] : [j, i];
		this.data[row * (this.width + 1) + column - row + this.width]! += v;
	}

	/** Adds another of the same size and width, in place. */
	plus(other: Banded): this {
		for (let k = 0; k < this.data.length; k++) this.data[k]! += other.data[k]!;
		return this;
	}

	/** A v, of a matrix that isn't factored. */
	times(v: Float64Array): Float64Array {
		const { n, width: p, data } = this;
		const out = new Float64Array(n);
		for (let i = 0; i < n; i++) {
			const row = i * (p + 1) + p - i;
			let sum = data[row + i]! * v[i]!;
			for (let k = Math.max(0, i - p); k < i; k++) {
				sum += data[row + k]! * v[k]!;
				out[k]! += data[row + k]! * v[i]!;
			}
			out[i]! += sum;
		}
		return out;
	}

	/**
	 * L of A = L Lᵀ, in place: this is L afterwards.
	 * @throws RangeError where the matrix isn't positive definite
	 */
	factor(): this {
		const { n, width: p, data } = this;
		const stride = p + 1;
		for (let i = 0; i < n; i++) {
			const row = i * stride + p - i;
			const first = Math.max(0, i - p);
			let j = first;
			// Four columns at a time, as far as all four reach: each entry of the row is loaded once for all of them.
			for (; j + 3 < i; j += 4) {
				const r0 = j * stride + p - j;
				const r1 = r0 + p;
				const r2 = r1 + p;
				const r3 = r2 + p;
				let s0 = data[row + j]!;
				let s1 = data[row + j + 1]!;
				let s2 = data[row + j + 2]!;
				let s3 = data[row + j + 3]!;
				for (let k = first; k < j; k++) {
					const v = data[row + k]!;
					s0 -= v * data[r0 + k]!;
					s1 -= v * data[r1 + k]!;
					s2 -= v * data[r2 + k]!;
					s3 -= v * data[r3 + k]!;
				}
				// Among the four, each needs those before it.
				s0 /= data[r0 + j]!;
				s1 = (s1 - s0 * data[r1 + j]!) / data[r1 + j + 1]!;
				s2 = (s2 - s0 * data[r2 + j]! - s1 * data[r2 + j + 1]!) / data[r2 + j + 2]!;
				s3 = (s3 - s0 * data[r3 + j]! - s1 * data[r3 + j + 1]! - s2 * data[r3 + j + 2]!) / data[r3 + j + 3]!;
				data[row + j] = s0;
				data[row + j + 1] = s1;
				data[row + j + 2] = s2;
				data[row + j + 3] = s3;
			}
			for (; j <= i; j++) {
				const other = j * stride + p - j;
				let sum = data[row + j]!;
				for (let k = first; k < j; k++) sum -= data[row + k]! * data[other + k]!;
				if (j < i) data[row + j] = sum / data[other + j]!;
				else {
					if (!(sum > 0)) throw new RangeError('the system is not positive definite');
					data[row + i] = Math.sqrt(sum);
				}
			}
		}
		return this;
	}

	/** Solves A x = b with this as L; b becomes x. */
	solve(b: Float64Array): Float64Array {
		const { n, width: p, data } = this;
		const stride = p + 1;
		for (let i = 0; i < n; i++) {
			const row = i * stride + p - i;
			let sum = b[i]!;
			for (let k = Math.max(0, i - p); k < i; k++) sum -= data[row + k]! * b[k]!;
			b[i] = sum / data[row + i]!;
		}
		for (let i = n - 1; i >= 0; i--) {
			const row = i * stride + p - i;
			const x = b[i]! / data[row + i]!;
			b[i] = x;
			for (let k = Math.max(0, i - p); k < i; k++) b[k]! -= data[row + k]! * x;
		}
		return b;
	}

	/** Diagonal of the inverse of A, with this as L. */
	inverseDiagonal(): Float64Array {
		const { n, width: p, data } = this;
		const stride = p + 1;
		// Z, the inverse within the band, by the same layout; column by column from the last.
		const z = new Float64Array(data.length);
		const column = new Float64Array(stride);
		const sum = new Float64Array(stride);
		for (let j = n - 1; j >= 0; j--) {
			const m = Math.min(n - 1, j + p) - j;
			const pivot = data[j * stride + p]!;
			// Column j of L below the diagonal, gathered once.
			for (let k = 1; k <= m; k++) column[k] = data[(j + k) * stride + p - k]! / pivot;
			// The known square of Z below and right of j times that column, by rows: each entry serves both halves.
			for (let k = 1; k <= m; k++) {
				const row = (j + k) * stride + p - k;
				const c = column[k]!;
				let own = z[row + k]! * c;
				for (let i = 1; i < k; i++) {
					const v = z[row + i]!;
					own += v * column[i]!;
					sum[i]! += v * c;
				}
				sum[k] = own;
			}
			let diagonal = 1 / (pivot * pivot);
			for (let k = 1; k <= m; k++) {
				z[(j + k) * stride + p - k] = -sum[k]!;
				diagonal += column[k]! * sum[k]!;
			}
			z[j * stride + p] = diagonal;
		}
		return Float64Array.from({ length: n }, (_, i) => z[i * stride + p]!);
	}
}
