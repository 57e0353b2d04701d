/** Normal equations of the samples, summed in one pass and changed only where a weight changes; solved together with the prior. */
import { Banded } from './banded.ts';
import { BorderedFactor } from './bordered.ts';
import type { Prior } from './prior.ts';
import type { Samples } from './samples.ts';

/** Something else that the error may follow: one value a sample, centred. */
export interface Term {
	values: Float32Array;
	/** Prior standard deviation of its coefficient. */
	sd: number;
}

export interface Solution {
	/** Correction per node: share of its value. */
	d: Float64Array;
	/** Level, tilt along x, tilt along y, offset of each log, coefficient of each term. */
	border: Float64Array;
	factor: BorderedFactor;
}

const LEVEL = 0;
const TILT_X = 1;
const TILT_Y = 2;
const LOGS = 3;

export class System {
	private readonly width: number;
	private readonly band: Banded;
	private readonly side: Float64Array[];
	private readonly corner: Float64Array;
	private readonly g: Float64Array;
	private readonly h: Float64Array;
	private readonly m: number;
	/** Coefficients of the two tilts per sample. */
	private readonly tx: Float32Array;
	private readonly ty: Float32Array;

	constructor(
		private readonly s: Samples,
		private readonly prior: Prior,
		private readonly logs: number,
		private readonly terms: readonly Term[] = []
	) {
		const { order, nodes, tiltX, tiltY } = prior;
		let width = prior.width;
		this.tx = new Float32Array(s.count);
		this.ty = new Float32Array(s.count);
		for (let i = 0; i < s.count; i++) {
			let low = Infinity;
			let high = 0;
			let x = 0;
			let y = 0;
			for (let e = s.start[i]!; e < s.start[i + 1]!; e++) {
				const node = s.node[e]!;
				const place = order[node]!;
				if (place < low) low = place;
				if (place > high) high = place;
				x += s.a[e]! * tiltX[node]!;
				y += s.a[e]! * tiltY[node]!;
			}
			width = Math.max(width, high - low);
			this.tx[i] = x;
			this.ty[i] = y;
		}
		this.width = width;
		this.m = LOGS + logs + terms.length;
		this.band = new Banded(nodes.count, width);
		this.side = Array.from({ length: this.m }, () => new Float64Array(nodes.count));
		this.corner = new Float64Array(this.m * this.m);
		this.g = new Float64Array(nodes.count);
		this.h = new Float64Array(this.m);
	}

	/** Index of the offset of a log in the border. */
	offsetAt(log: number): number {
		return LOGS + log;
	}

	termAt(k: number): number {
		return LOGS + this.logs + k;
	}

	/** Adds sample `i` with weight `w`; a negative weight takes it back. */
	add(i: number, w: number): void {
		const { s, prior, side, corner, g, h, m, band } = this;
		const { order } = prior;
		const z = s.z[i]!;
		const own = this.borderOf(i);
		const from = s.start[i]!;
		const to = s.start[i + 1]!;
		const data = band.data;
		const stride = band.width + 1;
		for (let e = from; e < to; e++) {
			const p = order[s.node[e]!]!;
			const wa = w * s.a[e]!;
			g[p]! += wa * z;
			// Entries of a sample rise in place within a member; of two only the lower half is kept.
			for (let f = from; f <= e; f++) {
				const q = order[s.node[f]!]!;
				const v = wa * s.a[f]!;
				if (p >= q) data[p * stride + q - p + band.width]! += v;
				else data[q * stride + p - q + band.width]! += v;
			}
			for (let k = 0; k < own.count; k++) side[own.at[k]!]![p]! += wa * own.c[k]!;
		}
		for (let k = 0; k < own.count; k++) {
			const wc = w * own.c[k]!;
			h[own.at[k]!]! += wc * z;
			for (let l = 0; l < own.count; l++) corner[own.at[k]! * m + own.at[l]!]! += wc * own.c[l]!;
		}
	}

	private readonly own = { count: 0, at: [] as number[], c: [] as number[] };
	/** The entries of a sample in the border that aren't zero; reused by the next call. */
	private borderOf(i: number) {
		const { own, s } = this;
		own.at[0] = LEVEL;
		own.c[0] = 1;
		own.at[1] = TILT_X;
		own.c[1] = this.tx[i]!;
		own.at[2] = TILT_Y;
		own.c[2] = this.ty[i]!;
		own.at[3] = LOGS + s.log[i]!;
		own.c[3] = 1;
		this.terms.forEach((t, k) => {
			own.at[4 + k] = this.termAt(k);
			own.c[4 + k] = t.values[i]!;
		});
		own.count = 4 + this.terms.length;
		return own;
	}

	/**
	 * @param loose factor per node by which the prior gives way; `null` nowhere
	 * @param dayS standard deviation of a log's offset
	 */
	solve(loose: Float64Array | null, day = this.prior.scales.day): Solution {
		const { prior, m } = this;
		const band = prior.matrix(this.width, loose);
		for (let k = 0; k < band.data.length; k++) band.data[k]! += this.band.data[k]!;
		const corner = this.corner.slice();
		const own = [prior.scales.level, prior.scales.tilt, prior.scales.tilt];
		for (let k = 0; k < m; k++) {
			const term = this.terms[k - LOGS - this.logs];
			corner[k * m + k]! += 1 / (term?.sd ?? own[k] ?? day) ** 2;
		}
		const factor = new BorderedFactor({ band, side: this.side, corner });
		const { band: f, border } = factor.solve(this.g, this.h);
		const d = new Float64Array(prior.nodes.count);
		for (let i = 0; i < d.length; i++)
			d[i] =
				f[prior.order[i]!]! +
				border[LEVEL]! +
				prior.tiltX[i]! * border[TILT_X]! +
				prior.tiltY[i]! * border[TILT_Y]!;
		return { d, border, factor };
	}

	/** Standard deviation of d per node. */
	sd({ factor }: Solution): Float64Array {
		const variance = factor.variances(this.prior.mix());
		return Float64Array.from(this.prior.order, (place) => Math.sqrt(Math.max(0, variance[place]!)));
	}

	/** Standard deviation of an entry of the border. */
	borderSd({ factor }: Solution, k: number): number {
		return Math.sqrt(factor.cornerCovariance[k * this.m + k]!);
	}

	/** What is left of each sample. */
	residuals({ d, border }: Solution, out: Float32Array): Float32Array {
		const { s } = this;
		for (let i = 0; i < s.count; i++) {
			let v = s.z[i]! - border[LOGS + s.log[i]!]!;
			for (let e = s.start[i]!; e < s.start[i + 1]!; e++) v -= s.a[e]! * d[s.node[e]!]!;
			this.terms.forEach((t, k) => (v -= t.values[i]! * border[this.termAt(k)]!));
			out[i] = v;
		}
		return out;
	}

	/**
	 * How far each sample moves the coefficient of term `k` for a unit of its residual and weight: what a bootstrap resamples.
	 * @returns one value a sample
	 */
	influence({ factor }: Solution, k: number): Float32Array {
		const e = new Float64Array(this.m);
		e[this.termAt(k)] = 1;
		const { band, border } = factor.solve(new Float64Array(this.g.length), e);
		const { s, prior } = this;
		const out = new Float32Array(s.count);
		for (let i = 0; i < s.count; i++) {
			let v = 0;
			for (let q = s.start[i]!; q < s.start[i + 1]!; q++) v += s.a[q]! * band[prior.order[s.node[q]!]!]!;
			const own = this.borderOf(i);
			for (let q = 0; q < own.count; q++) v += own.c[q]! * border[own.at[q]!]!;
			out[i] = v;
		}
		return out;
	}
}

const KEPT = 16;
const known = new Map<string, Float64Array>();

/** Standard deviation of d per node with no data at all: worked out once per set of axes and scales. */
export function priorSd(prior: Prior): Float64Array {
	const key = JSON.stringify([prior.baroKpa, prior.scales, prior.nodes.tables.map((t) => [t.x, t.y])]);
	const done = known.get(key);
	if (done) return done;
	const { scales, nodes } = prior;
	const side = [0, 1, 2].map(() => new Float64Array(nodes.count));
	const corner = new Float64Array(9);
	[scales.level, scales.tilt, scales.tilt].forEach((sd, k) => (corner[k * 4] = 1 / sd ** 2));
	const factor = new BorderedFactor({ band: prior.matrix(prior.width, null), side, corner });
	const variance = factor.variances(prior.mix());
	const out = Float64Array.from(prior.order, (place) => Math.sqrt(variance[place]!));
	if (known.size >= KEPT) known.delete(known.keys().next().value!);
	known.set(key, out);
	return out;
}
