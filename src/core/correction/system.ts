/** Normal equations of the samples, summed in one pass and changed only where a weight changes; solved together with the prior. */
import { Banded } from './banded.ts';
import { BorderedFactor, dot } from './bordered.ts';
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

/** What the samples add up to, each with its weight w. */
interface Sums {
	/** Place in the band of each entry of the samples. */
	place: Int32Array;
	/** Σ w a aᵀ, Σ w a z, and Σ w a of each log. */
	band: Banded;
	g: Float64Array;
	ofLog: Float64Array[];
	/** By log: Σ w and Σ w z. */
	w: Float64Array;
	wz: Float64Array;
}

/** The same of terms: Σ w c a, by log Σ w c, Σ w c c′, Σ w c z. */
interface TermSums {
	terms: readonly Term[];
	of: Float64Array[];
	wc: Float64Array[];
	cc: Float64Array;
	cz: Float64Array;
}

const NO_TERMS: TermSums = { terms: [], of: [], wc: [], cc: new Float64Array(0), cz: new Float64Array(0) };

/**
 * A sample has coefficient 1 on the level and on its log, and on a tilt what its nodes have of it. So of level and tilts nothing is
 * summed sample by sample: their columns follow from the band's and the logs' own when the system is solved.
 */
export class System {
	private readonly m: number;
	/** Level and tilts in the order of the band. */
	private readonly mix: Float64Array[];
	private readonly sums: Sums;

	constructor(
		private readonly s: Samples,
		private readonly prior: Prior,
		private readonly logs: number,
		sums: Sums | null = null,
		private readonly extra: TermSums = NO_TERMS
	) {
		this.m = LOGS + logs + extra.terms.length;
		this.mix = prior.mix();
		this.sums = sums ?? empty(s, prior, logs);
	}

	/**
	 * The same samples with something else that their error may follow; nothing is added to either afterwards.
	 * @param weight of each sample, as it was added
	 */
	withTerms(terms: readonly Term[], weight: Float32Array): System {
		const { s, prior, logs, sums } = this;
		const { place } = sums;
		const n = terms.length;
		const extra: TermSums = {
			terms,
			of: terms.map(() => new Float64Array(prior.nodes.count)),
			wc: terms.map(() => new Float64Array(logs)),
			cc: new Float64Array(n * n),
			cz: new Float64Array(n)
		};
		for (let k = 0; k < n; k++) {
			const { values } = terms[k]!;
			const [column, byLog] = [extra.of[k]!, extra.wc[k]!];
			for (let i = 0; i < s.count; i++) {
				const wc = weight[i]! * values[i]!;
				for (let e = s.start[i]!; e < s.start[i + 1]!; e++) column[place[e]!]! += wc * s.a[e]!;
				byLog[s.log[i]!]! += wc;
				extra.cz[k]! += wc * s.z[i]!;
				for (let l = 0; l < n; l++) extra.cc[k * n + l]! += wc * terms[l]!.values[i]!;
			}
		}
		return new System(s, prior, logs, sums, extra);
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
		const { s, sums } = this;
		const { place, g, band } = sums;
		const z = s.z[i]!;
		const log = s.log[i]!;
		const side = sums.ofLog[log]!;
		const from = s.start[i]!;
		const to = s.start[i + 1]!;
		const { data, width } = band;
		for (let e = from; e < to; e++) {
			const p = place[e]!;
			const wa = w * s.a[e]!;
			g[p]! += wa * z;
			side[p]! += wa;
			// Of two entries only the lower half is kept; entries of a sample don't always rise in place.
			for (let f = from; f <= e; f++) {
				const q = place[f]!;
				const v = wa * s.a[f]!;
				if (p >= q) data[p * (width + 1) + q - p + width]! += v;
				else data[q * (width + 1) + p - q + width]! += v;
			}
		}
		sums.w[log]! += w;
		sums.wz[log]! += w * z;
	}

	/** The border of what was added: its columns, their products with each other and with what the samples read. */
	private border(): { side: Float64Array[]; corner: Float64Array; h: Float64Array } {
		const { m, logs, mix } = this;
		const { band, g, ofLog, w, wz } = this.sums;
		const { terms, of, wc, cc, cz } = this.extra;
		const level = new Float64Array(g.length);
		for (const column of ofLog) for (let p = 0; p < level.length; p++) level[p]! += column[p]!;
		const tilts = [TILT_X, TILT_Y].map((k) => band.times(mix[k]!));
		const side = [level, ...tilts, ...ofLog, ...of];
		const corner = new Float64Array(m * m);
		const put = (r: number, c: number, v: number) => (corner[r * m + c] = corner[c * m + r] = v);
		const total = (v: Float64Array) => v.reduce((sum, x) => sum + x, 0);
		put(LEVEL, LEVEL, total(w));
		for (const t of [TILT_X, TILT_Y]) {
			for (let k = 0; k < m; k++) put(t, k, dot(mix[t]!, side[k]!));
			for (const u of [TILT_X, TILT_Y]) put(t, u, dot(mix[t]!, side[u]!));
		}
		for (let l = 0; l < logs; l++) {
			put(this.offsetAt(l), this.offsetAt(l), w[l]!);
			put(LEVEL, this.offsetAt(l), w[l]!);
		}
		for (let k = 0; k < terms.length; k++) {
			put(LEVEL, this.termAt(k), total(wc[k]!));
			for (let l = 0; l < logs; l++) put(this.offsetAt(l), this.termAt(k), wc[k]![l]!);
			for (let l = 0; l < terms.length; l++) put(this.termAt(k), this.termAt(l), cc[k * terms.length + l]!);
		}
		const h = Float64Array.from([total(wz), dot(mix[TILT_X]!, g), dot(mix[TILT_Y]!, g), ...wz, ...cz]);
		return { side, corner, h };
	}

	/**
	 * @param loose factor per node by which the prior gives way; `null` nowhere
	 * @param dayS standard deviation of a log's offset
	 */
	solve(loose: Float64Array | null, day = this.prior.scales.day): Solution {
		const { prior, m } = this;
		const band = prior.matrix(this.sums.band.width, loose).plus(this.sums.band);
		const { side, corner, h } = this.border();
		const own = [prior.scales.level, prior.scales.tilt, prior.scales.tilt];
		for (let k = 0; k < m; k++) {
			const term = this.extra.terms[k - LOGS - this.logs];
			corner[k * m + k]! += 1 / (term?.sd ?? own[k] ?? day) ** 2;
		}
		const factor = new BorderedFactor({ band, side, corner });
		const { band: f, border } = factor.solve(this.sums.g, h);
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
		const variance = factor.variances(this.mix);
		return Float64Array.from(this.prior.order, (place) => Math.sqrt(Math.max(0, variance[place]!)));
	}

	/** Standard deviation of an entry of the border. */
	borderSd({ factor }: Solution, k: number): number {
		return Math.sqrt(factor.cornerCovariance[k * this.m + k]!);
	}

	/** What is left of each sample. */
	residuals({ d, border }: Solution, out: Float32Array): Float32Array {
		const { count, start, z, a, node, log } = this.s;
		for (let i = 0; i < count; i++) {
			let v = z[i]! - border[LOGS + log[i]!]!;
			const to = start[i + 1]!;
			for (let e = start[i]!; e < to; e++) v -= a[e]! * d[node[e]!]!;
			out[i] = v;
		}
		this.addTerms(out, border, -1);
		return out;
	}

	/** Adds what the terms give each sample, `sign` times. */
	private addTerms(out: Float32Array, border: Float64Array, sign: 1 | -1): void {
		for (const [k, { values }] of this.extra.terms.entries()) {
			const c = sign * border[this.termAt(k)]!;
			for (let i = 0; i < out.length; i++) out[i]! += values[i]! * c;
		}
	}

	/**
	 * How far each sample moves the coefficient of term `k` for a unit of its residual and weight: what a bootstrap resamples.
	 * @returns one value a sample
	 */
	influence({ factor }: Solution, k: number): Float32Array {
		const e = new Float64Array(this.m);
		e[this.termAt(k)] = 1;
		const { band, border } = factor.solve(new Float64Array(this.sums.g.length), e);
		const { s, mix } = this;
		const { place } = this.sums;
		// What a sample has of level and tilts it has through its nodes.
		const total = band.map(
			(v, p) => v + [LEVEL, TILT_X, TILT_Y].reduce((t, b) => t + mix[b]![p]! * border[b]!, 0)
		);
		const out = new Float32Array(s.count);
		for (let i = 0; i < s.count; i++) {
			let v = border[this.offsetAt(s.log[i]!)]!;
			for (let q = s.start[i]!; q < s.start[i + 1]!; q++) v += s.a[q]! * total[place[q]!]!;
			out[i] = v;
		}
		this.addTerms(out, border, 1);
		return out;
	}
}

/** Sums of no sample yet, with a band wide enough for all of them. */
function empty(s: Samples, { order, nodes, width: tied }: Prior, logs: number): Sums {
	const place = new Int32Array(s.node.length);
	let width = tied;
	for (let i = 0; i < s.count; i++) {
		let low = Infinity;
		let high = 0;
		for (let e = s.start[i]!; e < s.start[i + 1]!; e++) {
			const p = order[s.node[e]!]!;
			place[e] = p;
			if (p < low) low = p;
			if (p > high) high = p;
		}
		if (high - low > width) width = high - low;
	}
	return {
		place,
		band: new Banded(nodes.count, width),
		g: new Float64Array(nodes.count),
		ofLog: Array.from({ length: logs }, () => new Float64Array(nodes.count)),
		w: new Float64Array(logs),
		wz: new Float64Array(logs)
	};
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
