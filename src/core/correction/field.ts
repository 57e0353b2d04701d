/**
 * The requirement of the engine as one smooth field: what every node of a fuel table wants, from all samples of all logs together, with
 * its uncertainty. Robust (Huber 1964), but a real lean spot is no outlier; where the field doesn't fit, its prior gives way.
 */
import { noiseOf, type Noise } from './noise.ts';
import { steps, type Nodes } from './nodes.ts';
import { Prior, SCALES, type PriorScales } from './prior.ts';
import type { Samples } from './samples.ts';
import { priorSd, System, type Solution, type Term } from './system.ts';

export interface Field {
	nodes: Nodes;
	/** Per node: what the engine wants of it, share of its value. */
	d: Float64Array;
	/** Standard deviation of that; with one log the day's offset is in it. */
	sd: Float64Array;
	/** The same before any sample. */
	priorSd: Float64Array;
	/** Share of the doubt that the samples took away, 0–1: 1 − sd² / priorSd². */
	trust: Float64Array;
	/** Σ b of the samples, and Σ b dt. */
	support: Float64Array;
	seconds: Float64Array;
	/** The same by log: which log speaks here, and how much. */
	secondsByLog: Float64Array[];
	/** Mean of what its own samples still want, of nodes that have some; NaN elsewhere. */
	miss: Float64Array;
	/** 1 where its own samples are leaner than the field, and the field couldn't be made to fit. */
	misfit: Uint8Array;
	level: { value: number; sd: number };
	/** Offset of each log. */
	offsets: { value: number; sd: number }[];
	/** From one day to the next: as expected, or as the logs tell where they are several. */
	day: number;
	noise: Noise;
}

/** What a second look needs of the fit: the samples' weights, what is left of them, and the system. */
export interface Fitted {
	field: Field;
	weight: Float32Array;
	residual: Float32Array;
	system: System;
	/** Factor per node by which the prior gave way. */
	loose: Float64Array;
}

const HUBER = 1.5;
const ROUNDS = 5;
/** A lean spell this long is no outlier, and neither is one at the same place in two pulls. */
const LEAN_S = 0.2;
const LEAN_GAP_S = 0.3;
/**
 * The field doesn't fit where a node's own mean is off by more than this, and by more than so many standard errors. The prior gives
 * way a little before that is said: else a ridge of one node stays short by what is just not yet a misfit.
 */
const MISFIT = 0.02;
const STIFF = 0.015;
const MISFIT_SE = 3;
const LEAST_OF_NODE = 6;
const LOOSEN = 4;
const LOOSENINGS = 2;
/** Weights that change by less are as they were; a field that moves by less than this nowhere has settled. */
const SAME = 1e-3;
const SETTLED = 5e-4;
/** Logs from which the day's offset can be measured, and how many logs the expected one counts as. */
const SEVERAL = 3;
const EXPECTED_COUNTS = 2;

/**
 * @param logs how many logs the samples may be from
 * @example fitField(samples, nodesOf(calibration), 1, 100).field.d[0] // 0.04: the first cell wants 4 % more
 */
export function fitField(
	s: Samples,
	nodes: Nodes,
	logs: number,
	baroKpa: number,
	scales: PriorScales = SCALES
): Fitted {
	const prior = new Prior(nodes, baroKpa, scales);
	const system = new System(s, prior, logs);
	const noise = noiseOf(s, positions(s, nodes, baroKpa, 'x'), positions(s, nodes, baroKpa, 'y'));
	const nearest = nearestNodes(s);
	const base = new Float32Array(s.count);
	const weight = new Float32Array(s.count).fill(1);
	for (let i = 0; i < s.count; i++) {
		const band = s.band[i] as 0 | 1;
		base[i] = Math.min(1, s.dtS[i]! / noise.scaleS[band]);
		system.add(i, base[i]! / noise.sigma[band] ** 2);
	}
	const residual = new Float32Array(s.count);
	const loose = new Float64Array(nodes.count).fill(1);
	let day = scales.day;
	let solution = system.solve(loose, day);
	let misses = missesOf(s, nodes, nearest, residual, base, noise);
	for (let outer = 0; outer <= LOOSENINGS; outer++) {
		for (let round = 0; round < ROUNDS; round++) {
			system.residuals(solution, residual);
			const moved = reweigh(s, system, base, weight, residual, nearest.node, noise, nodes.count);
			if (!moved && round > 0) break;
			const last = solution.d;
			solution = system.solve(loose, day);
			if (solution.d.every((v, i) => Math.abs(v - last[i]!) < SETTLED)) break;
		}
		system.residuals(solution, residual);
		misses = missesOf(s, nodes, nearest, residual, base, noise);
		if (logs >= SEVERAL && outer === 0) {
			day = dayOf(system, solution, s, logs, scales.day);
			solution = system.solve(loose, day);
		}
		if (outer === LOOSENINGS || !misses.stiff.some((n) => n)) break;
		misses.stiff.forEach((off, node) => off && loosenAround(nodes, node, loose));
		solution = system.solve(loose, day);
	}
	const sd = system.sd(solution);
	const before = priorSd(prior);
	const { support, seconds, secondsByLog } = supportOf(s, nodes, logs);
	const field: Field = {
		nodes,
		d: solution.d,
		sd,
		priorSd: before,
		trust: sd.map((v, i) => Math.max(0, 1 - (v / before[i]!) ** 2)),
		support,
		seconds,
		secondsByLog,
		miss: misses.mean,
		misfit: Uint8Array.from(misses.stiff, (off, i) => (off && misses.mean[i]! > MISFIT ? 1 : 0)),
		level: { value: solution.border[0]!, sd: system.borderSd(solution, 0) },
		offsets: Array.from({ length: logs }, (_, l) => ({
			value: solution.border[system.offsetAt(l)]!,
			sd: system.borderSd(solution, system.offsetAt(l))
		})),
		day,
		noise
	};
	return { field, weight: weight.map((w, i) => w * base[i]!), residual, system, loose };
}

export interface TermsFitted {
	/** Correction per node with the terms taken out. */
	d: Float64Array;
	/** Coefficient of each term. */
	slopes: Float64Array;
	residual: Float32Array;
	/** How far each sample moves coefficient `k`. */
	influence(k: number): Float32Array;
}

/** The same samples with something else that they may follow: weights and where the prior gave way are those of the fit without. */
export function fitTerms(
	s: Samples,
	{ field, weight, system, loose }: Fitted,
	terms: readonly Term[]
): TermsFitted {
	const { sigma } = field.noise;
	const joint = system.withTerms(
		terms,
		weight.map((w, i) => w / sigma[s.band[i] as 0 | 1] ** 2)
	);
	const solution = joint.solve(loose, field.day);
	return {
		d: solution.d,
		slopes: Float64Array.from(terms, (_, k) => solution.border[joint.termAt(k)]!),
		residual: joint.residuals(solution, new Float32Array(s.count)),
		influence: (k) => joint.influence(solution, k)
	};
}

/** Samples' places in steps of physical distance along an axis of the first table. */
function positions(s: Samples, nodes: Nodes, baroKpa: number, which: 'x' | 'y'): Float32Array {
	const axis = nodes.tables[0]![which];
	if (!axis) return new Float32Array(s.count);
	const { points } = axis;
	const at = steps(axis, baroKpa);
	const span = points[points.length - 1]! - points[0]!;
	const per = span > 0 ? at[at.length - 1]! / span : 0;
	return s[which].map((v) => (v - points[0]!) * per);
}

interface Nearest {
	node: Int32Array;
	b: Float32Array;
}

/** The node that each sample weighs most on, and by how much. */
function nearestNodes(s: Samples): Nearest {
	const node = new Int32Array(s.count);
	const b = new Float32Array(s.count);
	for (let i = 0; i < s.count; i++) {
		let best = s.start[i]!;
		for (let e = best + 1; e < s.start[i + 1]!; e++) if (s.b[e]! > s.b[best]!) best = e;
		node[i] = s.node[best]!;
		b[i] = s.b[best]!;
	}
	return { node, b };
}

/** Huber's weights, but for lean spells; changes the system by what changed. @returns whether anything did */
function reweigh(
	s: Samples,
	system: System,
	base: Float32Array,
	weight: Float32Array,
	residual: Float32Array,
	nearest: Int32Array,
	noise: Noise,
	nodes: number
): boolean {
	const spared = leanSpells(s, residual, nearest, noise, nodes);
	let moved = false;
	for (let i = 0; i < s.count; i++) {
		const sigma = noise.sigma[s.band[i] as 0 | 1];
		const u = Math.abs(residual[i]!) / (HUBER * sigma);
		const next = u <= 1 || spared[i] ? 1 : 1 / u;
		const change = next - weight[i]!;
		if (Math.abs(change) < SAME) continue;
		system.add(i, (change * base[i]!) / sigma ** 2);
		weight[i] = next;
		moved = true;
	}
	return moved;
}

/** 1 for samples of a lean spell that lasts, or that comes back at the same node in another pull: a real lean spot is no outlier. */
function leanSpells(
	s: Samples,
	residual: Float32Array,
	nearest: Int32Array,
	noise: Noise,
	nodes: number
): Uint8Array {
	const out = new Uint8Array(s.count);
	const pullAt = new Int32Array(nodes).fill(-1);
	const again = new Uint8Array(nodes);
	const lean = (i: number) => residual[i]! > HUBER * noise.sigma[s.band[i] as 0 | 1];
	let from = -1;
	let last = -1;
	const close = () => {
		if (from >= 0 && s.timeS[last]! - s.timeS[from]! + s.dtS[last]! >= LEAN_S) out.fill(1, from, last + 1);
		from = -1;
	};
	for (let i = 0; i < s.count; i++) {
		if (!lean(i)) {
			close();
			continue;
		}
		const follows =
			from >= 0 && s.log[i] === s.log[last] && s.timeS[i]! - s.timeS[last]! < LEAN_GAP_S && i === last + 1;
		if (!follows) {
			close();
			from = i;
		}
		last = i;
		if (s.pull[i]! >= 0) {
			const node = nearest[i]!;
			const pull = s.log[i]! * 4096 + s.pull[i]!;
			if (pullAt[node] === -1) pullAt[node] = pull;
			else if (pullAt[node] !== pull) again[node] = 1;
		}
	}
	close();
	for (let i = 0; i < s.count; i++) if (s.pull[i]! >= 0 && again[nearest[i]!] && lean(i)) out[i] = 1;
	return out;
}

function missesOf(
	s: Samples,
	nodes: Nodes,
	nearest: Nearest,
	residual: Float32Array,
	base: Float32Array,
	noise: Noise
): { mean: Float64Array; stiff: boolean[] } {
	const n = new Float64Array(nodes.count);
	const w = new Float64Array(nodes.count);
	const sum = new Float64Array(nodes.count);
	const sigma = new Float64Array(nodes.count);
	const total = new Float64Array(nodes.count);
	for (let i = 0; i < s.count; i++) {
		const node = nearest.node[i]!;
		const own = base[i]! * nearest.b[i]!;
		n[node]!++;
		w[node]! += base[i]!;
		total[node]! += own;
		sum[node]! += own * residual[i]!;
		sigma[node] = Math.max(sigma[node]!, noise.sigma[s.band[i] as 0 | 1]);
	}
	const mean = new Float64Array(nodes.count).fill(Number.NaN);
	const stiff = Array.from({ length: nodes.count }, (_, c) => {
		if (n[c]! < LEAST_OF_NODE) return false;
		mean[c] = sum[c]! / total[c]!;
		const se = sigma[c]! / Math.sqrt(Math.max(w[c]!, 1e-9));
		return Math.abs(mean[c]!) > STIFF && Math.abs(mean[c]!) > MISFIT_SE * se;
	});
	return { mean, stiff };
}

/** The ties of a node and of the eight around it give way. */
function loosenAround(nodes: Nodes, node: number, loose: Float64Array): void {
	const t = nodes.tables.find((table) => node < table.first + table.nx * table.ny)!;
	const at = node - t.first;
	const [r, c] = [Math.floor(at / t.nx), at % t.nx];
	for (let dr = -1; dr <= 1; dr++)
		for (let dc = -1; dc <= 1; dc++) {
			const [y, x] = [r + dr, c + dc];
			if (y >= 0 && x >= 0 && y < t.ny && x < t.nx) loose[t.first + y * t.nx + x]! *= LOOSEN;
		}
}

/** Repeatability of a day, from the offsets of several logs, the expected one counting as two. */
function dayOf(system: System, solution: Solution, s: Samples, logs: number, expected: number): number {
	const spoke = new Uint8Array(logs);
	for (let i = 0; i < s.count; i++) spoke[s.log[i]!] = 1;
	let sum = EXPECTED_COUNTS * expected ** 2;
	let n = EXPECTED_COUNTS;
	for (let l = 0; l < logs; l++) {
		if (!spoke[l]) continue;
		const at = system.offsetAt(l);
		sum += solution.border[at]! ** 2 + system.borderSd(solution, at) ** 2;
		n++;
	}
	return Math.sqrt(sum / n);
}

function supportOf(s: Samples, nodes: Nodes, logs: number) {
	const support = new Float64Array(nodes.count);
	const seconds = new Float64Array(nodes.count);
	const secondsByLog = Array.from({ length: logs }, () => new Float64Array(nodes.count));
	for (let i = 0; i < s.count; i++)
		for (let e = s.start[i]!; e < s.start[i + 1]!; e++) {
			const node = s.node[e]!;
			support[node]! += s.b[e]!;
			const time = s.b[e]! * s.dtS[i]!;
			seconds[node]! += time;
			secondsByLog[s.log[i]!]![node]! += time;
		}
	return { support, seconds, secondsByLog };
}
