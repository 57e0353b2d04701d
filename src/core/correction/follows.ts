/**
 * What else the error follows: intake air, supply voltage, time since the start. They enter the joint system as terms beside the field;
 * said only where the log really moved them, several times, and a block bootstrap excludes zero (Künsch 1989).
 */
import { Rng } from '../stats/rng.ts';
import { quantile, quantileSorted } from '../stats/stats.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { fitTerms, type Fitted, type TermsFitted } from './field.ts';
import type { Samples } from './samples.ts';
import type { Term } from './system.ts';

export type FollowedId = 'iat' | 'vbat' | 'time';

export interface Follow {
	term: FollowedId;
	/** Percent of fuel per unit: per °C, per V, over the warm-up. */
	slope: number;
	se: number;
	/** Item that such an error belongs into; `null` where nothing known does. */
	item: 'fuel.iatTrim' | 'injector.deadTime' | null;
}

const KINDS: readonly { id: FollowedId; sd: number; item: Follow['item'] }[] = [
	{ id: 'iat', sd: 0.001, item: 'fuel.iatTrim' },
	{ id: 'vbat', sd: 0.01, item: 'injector.deadTime' },
	{ id: 'time', sd: 0.01, item: null }
];
/** Warm-up behind the sensor and the oil goes on for about so long after the coolant is warm, seconds. */
const WARM_S = 300;
const MOVES = 0.015;
const EXCURSIONS = 5;
const RESAMPLES = 999;
const BLOCK_SCALES = 3;
const EXCLUDED = 0.005;
const ENOUGH = 20_000;

export interface Following {
	follows: Follow[];
	/** Correction per node with those terms taken out; `null` where nothing is followed. */
	without: Float64Array | null;
}

/** @param plain the fit of the same samples without any term */
export function followed(logs: readonly Prepared[], s: Samples, plain: Fitted): Following {
	const terms = KINDS.flatMap((kind) => {
		const raw = column(logs, s, kind.id);
		if (!raw) return [];
		const sorted = thinned(raw).sort();
		const [low, high] = [quantileSorted(sorted, 0.1), quantileSorted(sorted, 0.9)];
		// A range that could never matter at three times what is expected isn't asked about.
		if (!((high - low) * kind.sd * 3 * 3 >= MOVES)) return [];
		const middle = raw.reduce((sum, v) => sum + v, 0) / raw.length;
		const values = raw.map((v) => v - middle);
		return [{ kind, low: low - middle, high: high - middle, term: { values, sd: kind.sd } satisfies Term }];
	});
	if (terms.length === 0) return { follows: [], without: null };
	const fit = fitTerms(
		s,
		plain,
		terms.map((t) => t.term)
	);
	const follows = terms.flatMap(({ kind, low, high, term }, k): Follow[] => {
		const slope = fit.slopes[k]!;
		if (Math.abs(slope) * (high - low) < MOVES) return [];
		if (excursions(s, term.values, low, high) < EXCURSIONS) return [];
		const spread = bootstrap(s, plain, fit, k, term.values);
		if (!(spread.low > 0 || spread.high < 0)) return [];
		return [{ term: kind.id, slope: 100 * slope, se: 100 * spread.sd, item: kind.item }];
	});
	return { follows, without: follows.length ? fit.d : null };
}

/** Values of a term at the samples; `null` where a log lacks it. */
function column(logs: readonly Prepared[], s: Samples, id: FollowedId): Float32Array | null {
	const sources = logs.map(({ frame, segments }) => {
		if (id !== 'time') return frame.get(id);
		const start = segments.running[0];
		const from = start ? frame.timeS[start.from]! : 0;
		return frame.timeS.map((t) => Math.max(0, 1 - (t - from) / WARM_S));
	});
	if (sources.some((v) => v === null)) return null;
	const out = new Float32Array(s.count);
	for (let i = 0; i < s.count; i++) {
		const v = sources[s.log[i]!]![s.index[i]!]!;
		if (v !== v) return null;
		out[i] = v;
	}
	return out;
}

/** Every so many values, a copy: enough for how far they range, however long the logs are. */
function thinned(values: Float32Array): Float32Array {
	const every = Math.ceil(values.length / ENOUGH);
	return Float32Array.from({ length: Math.ceil(values.length / every) }, (_, i) => values[i * every]!);
}

/** Times that a term went from its low end to its high end or back. */
function excursions(s: Samples, values: Float32Array, low: number, high: number): number {
	const [near, far] = [low + (high - low) * 0.25, low + (high - low) * 0.75];
	let side = 0;
	let n = 0;
	let log = -1;
	for (let i = 0; i < s.count; i++) {
		if (s.log[i] !== log) {
			log = s.log[i]!;
			side = 0;
		}
		const v = values[i]!;
		const now = v <= near ? -1 : v >= far ? 1 : side;
		if (now !== side && side !== 0) n++;
		side = now;
	}
	return n;
}

/**
 * Blocks of residuals drawn with replacement: how far the coefficient moves is the sum of its samples' influences. Blocks are three
 * times the longer of the noise's time scale and the term's own.
 */
function bootstrap(s: Samples, { field, weight }: Fitted, fit: TermsFitted, k: number, values: Float32Array) {
	const influence = fit.influence(k);
	const lengthS = BLOCK_SCALES * Math.max(...field.noise.scaleS, ownScale(s, values));
	const blocks: number[] = [];
	let from = -Infinity;
	let log = -1;
	for (let i = 0; i < s.count; i++) {
		if (s.log[i] !== log || s.timeS[i]! - from >= lengthS) {
			log = s.log[i]!;
			from = s.timeS[i]!;
			blocks.push(0);
		}
		const sigma = field.noise.sigma[s.band[i] as 0 | 1];
		blocks[blocks.length - 1]! += (influence[i]! * weight[i]! * fit.residual[i]!) / sigma ** 2;
	}
	const rng = new Rng(1);
	const centre = fit.slopes[k]!;
	const total = blocks.reduce((sum, v) => sum + v, 0);
	const drawn = Float64Array.from({ length: RESAMPLES }, () => {
		let sum = 0;
		for (let b = 0; b < blocks.length; b++) sum += blocks[Math.floor(rng.next() * blocks.length)]!;
		return centre + sum - total;
	});
	const mean = drawn.reduce((sum, v) => sum + v, 0) / drawn.length;
	const sd = Math.sqrt(drawn.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (drawn.length - 1));
	return { low: quantile(drawn, EXCLUDED), high: quantile(drawn, 1 - EXCLUDED), sd };
}

/** How long a term keeps to one side of its middle, on average, seconds. */
function ownScale(s: Samples, values: Float32Array): number {
	let crossings = 0;
	let time = 0;
	for (let i = 1; i < s.count; i++) {
		if (s.log[i] !== s.log[i - 1]) continue;
		time += s.dtS[i]!;
		if (values[i]! > 0 !== values[i - 1]! > 0) crossings++;
	}
	return time / (crossings + 1);
}
