/**
 * Which of several witnesses of one gas is believed, place by place: per 500 rpm under load, and per 500 rpm of the rest. A sensor that is
 * right to 4500 rpm and 10 % off at 6400 is believed below and not above.
 *
 * Within the limit of agreement the mean is believed; where two agree and a third doesn't, the two; where nobody agrees the one that is leaner
 * in the mean of the place, throughout it: never the leaner of each sample, which would be leaner than any of them.
 */
import { FLAG, NO_MIXTURE } from '../segments/kinds.ts';
import type { Segments } from '../segments/segments.ts';
import type { Profile } from '../../limits/profile.ts';
import { median } from '../../stats/stats.ts';
import { meanOf } from './witnesses.ts';

/** What the belief in a bank rests on. */
export interface Basis {
	/** One source; agreeing ones averaged; two that agree against the rest; the leaner while nobody agrees; nothing. The gravest of all places. */
	rule: 'single' | 'mean' | 'outvoted' | 'leaner' | 'none';
	/** Witnesses that are believed there: `factory`, or the channel of an instrument. */
	witnesses: string[];
}

/** A candidate for what a bank ran, by who says so. */
export interface Candidate {
	witness: string;
	values: Float32Array;
}

export interface Consensus {
	values: Float32Array | null;
	/** Median distance of the two that are farthest apart, percent: while loaded, or over all where hardly anything was. */
	pct: number;
	basis: Basis;
	/** 1 at places where the witnesses are farther apart than two that agree: fuel is added there, and none taken out. */
	doubtful: Uint8Array;
}

const BIN_RPM = 500;
/** Fewer samples than this in a place decide nothing: its band does. */
const LEAST_S = 0.4;
const LEAST_SAMPLES = 4;
const ENOUGH_LOADED = 20;
/** Gravest first. */
const GRAVITY: readonly Basis['rule'][] = ['leaner', 'outvoted', 'mean'];

export function consensus(
	list: readonly Candidate[],
	frame: { rpm: Float32Array; dtS: Float64Array },
	segments: Segments,
	profile: Profile
): Consensus {
	const [first] = list;
	const n = frame.rpm.length;
	const doubtful = new Uint8Array(n);
	const all = list.map((c) => c.witness);
	if (!first) return { values: null, pct: Number.NaN, basis: { rule: 'none', witnesses: [] }, doubtful };
	if (list.length === 1)
		return { values: first.values, pct: Number.NaN, basis: { rule: 'single', witnesses: all }, doubtful };
	const places = placesBy(frame, segments);
	const values = meanOf(list.map((c) => c.values)).slice();
	let gravest: Basis = { rule: 'mean', witnesses: all };
	for (const samples of places) {
		const { members, rule, apartPct } = believedAt(list, samples, profile);
		const chosen = members.map((m) => list[m]!.values);
		if (rule !== 'mean')
			for (const i of samples) {
				let [sum, k] = [0, 0];
				for (const v of chosen)
					if (v[i] === v[i]) {
						sum += v[i]!;
						k++;
					}
				// Where the one that is believed has nothing, the others still speak.
				if (k) values[i] = sum / k;
			}
		if (rule === 'leaner' || (rule === 'mean' && apartPct > profile.witnessAgreePct))
			for (const i of samples) doubtful[i] = 1;
		const loaded = samples.some((i) => segments.flags[i]! & FLAG.loaded);
		if (loaded && GRAVITY.indexOf(rule) < GRAVITY.indexOf(gravest.rule))
			gravest = { rule, witnesses: members.map((m) => list[m]!.witness) };
	}
	return { values, pct: widestPct(list, segments, n), basis: gravest, doubtful };
}

/** Samples of a mixture by place; what a place has too little of joins the rest of its band. */
function placesBy({ rpm, dtS }: { rpm: Float32Array; dtS: Float64Array }, segments: Segments): number[][] {
	const places = new Map<string, { band: number; samples: number[]; seconds: number }>();
	for (let i = 0; i < rpm.length; i++) {
		const f = segments.flags[i]!;
		if (f & NO_MIXTURE) continue;
		const band = f & FLAG.loaded ? 1 : 0;
		const key = `${band} ${Math.floor(rpm[i]! / BIN_RPM)}`;
		const place = places.get(key) ?? { band, samples: [], seconds: 0 };
		place.samples.push(i);
		place.seconds += dtS[i]!;
		places.set(key, place);
	}
	const out: number[][] = [];
	const rest: number[][] = [[], []];
	for (const { band, samples, seconds } of places.values())
		if (samples.length >= LEAST_SAMPLES && seconds >= LEAST_S) out.push(samples);
		else rest[band]!.push(...samples);
	return [...out, ...rest.filter((r) => r.length > 0)];
}

interface At {
	/** Indices of those that are believed. */
	members: number[];
	rule: 'mean' | 'outvoted' | 'leaner';
	/** Of the two that are farthest apart, percent. */
	apartPct: number;
}

function believedAt(list: readonly Candidate[], samples: readonly number[], profile: Profile): At {
	let widest = 0;
	let closest: { pct: number; pair: [number, number] } | null = null;
	for (let a = 0; a < list.length; a++)
		for (let b = a + 1; b < list.length; b++) {
			const pct = 100 * Math.abs(meanLog(list[a]!.values, list[b]!.values, samples));
			if (pct !== pct) continue;
			if (pct > widest) widest = pct;
			if (!closest || pct < closest.pct) closest = { pct, pair: [a, b] };
		}
	const everyone = list.map((_, k) => k);
	if (
		list.length > 2 &&
		closest &&
		widest > profile.witnessAgreePct &&
		closest.pct <= profile.witnessAgreePct
	) {
		const { pair } = closest;
		const odd = everyone.filter((k) => !pair.includes(k));
		// The odd one is named only where it is away from both of the two.
		const away = odd.every((k) =>
			pair.every(
				(p) => 100 * Math.abs(meanLog(list[k]!.values, list[p]!.values, samples)) > profile.witnessAgreePct
			)
		);
		if (away) return { members: pair, rule: 'outvoted', apartPct: widest };
	}
	if (!(widest > profile.sensorAgreePct)) return { members: everyone, rule: 'mean', apartPct: widest };
	let leanest = 0;
	for (let k = 1; k < list.length; k++)
		if (meanLog(list[k]!.values, list[leanest]!.values, samples) > 0) leanest = k;
	return { members: [leanest], rule: 'leaner', apartPct: widest };
}

/** Mean of ln(a / b) over samples; NaN where they have too few in common. */
function meanLog(a: Float32Array, b: Float32Array, samples: readonly number[]): number {
	let [sum, n] = [0, 0];
	for (const i of samples) {
		const d = Math.log(a[i]! / b[i]!);
		if (!Number.isFinite(d)) continue;
		sum += d;
		n++;
	}
	return n >= LEAST_SAMPLES ? sum / n : Number.NaN;
}

function widestPct(list: readonly Candidate[], segments: Segments, n: number): number {
	let widest = Number.NaN;
	for (let a = 0; a < list.length; a++)
		for (let b = a + 1; b < list.length; b++) {
			const every: number[] = [];
			const loaded: number[] = [];
			for (let i = 0; i < n; i++) {
				const [x, y] = [list[a]!.values[i]!, list[b]!.values[i]!];
				const d = Math.max(x, y) / Math.min(x, y) - 1;
				if (d !== d || segments.flags[i]! & NO_MIXTURE) continue;
				every.push(d);
				if (segments.flags[i]! & FLAG.loaded) loaded.push(d);
			}
			const pct = 100 * median(loaded.length >= ENOUGH_LOADED ? loaded : every);
			if (!(pct <= widest) && pct === pct) widest = pct;
		}
	return widest;
}
