/**
 * What the samples of all logs say about the nodes. A controller interpolates values, so the fuel at a sample moves with its nodes by
 * a_i = b_i V_i / Σ b_j V_j, b the bilinear weights; in a blend the member's share multiplies its b.
 */
import { axisChannel } from '../calibration/axes.ts';
import { blendShares } from '../calibration/along.ts';
import type { Calibration } from '../calibration/document.ts';
import { fuelRatio } from '../calibration/fuel-along.ts';
import { AxisFinder } from '../calibration/grid.ts';
import { usable } from '../evidence/lambda/required.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import { derived } from '../logfile/columns.ts';
import { median } from '../stats/stats.ts';
import type { FuelTable, Nodes } from './nodes.ts';

/** Noise is told apart by band: under load, and anything else. */
export const BANDS = 2;
export const LOADED = 1;

export interface Samples {
	count: number;
	/** Log that each sample is from, by its index. */
	log: Uint16Array;
	/** Required correction less one, against the newest revision. */
	z: Float32Array;
	band: Uint8Array;
	timeS: Float64Array;
	dtS: Float32Array;
	/** Pull of the log, −1 outside of pulls. */
	pull: Int16Array;
	/** Index into the frame of its log. */
	index: Int32Array;
	/** What the first table is read by. */
	x: Float32Array;
	y: Float32Array;
	/** Nodes of sample s: entries `start[s]` to before `start[s + 1]`. */
	start: Int32Array;
	node: Int32Array;
	/** How far the fuel moves with the node, Σ = 1 per sample. */
	a: Float32Array;
	/** Weight of the node, before its value: Σ = 1 per sample. */
	b: Float32Array;
	/** Median sensor lag by band, seconds. */
	lagS: [number, number];
	stepS: number;
}

/** Reads the required correction of a log; `null` where it says nothing. Another reading of the same log asks another question. */
export type Reading = (input: Prepared) => Float32Array | null;

/**
 * Required correction of a bank; while loaded, where nobody knows whether the learned trim acts there and it is large, the larger of
 * both readings: an engine that is lean on either isn't left lean.
 */
function ofBank({ required, frame, segments }: Prepared, b: 0 | 1): Float32Array | null {
	const k = required.banks[b] ?? null;
	const learned = required.loadedUncertain[b] ? frame.get(`ltft.b${b + 1}`) : null;
	if (!k || !learned) return k;
	return derived(k, (v, i) =>
		segments.flags[i]! & FLAG.loaded && learned[i]! < 0 ? v / (1 + learned[i]! / 100) : v
	);
}

/** What both banks want in the mean, or the one that says something. */
export const atLeast: Reading = (input) => {
	const [first, second] = [ofBank(input, 0), ofBank(input, 1)].filter((k): k is Float32Array => k !== null);
	if (!first) return null;
	if (!second || input.believed.shared) return first;
	return derived(first, (p, i) => {
		const q = second[i]!;
		return q !== q ? p : p !== p ? q : (p + q) / 2;
	});
};

/** What the leaner bank wants: the stop-gap while the banks disagree. */
export const leanerBank: Reading = ({ required, believed }) => {
	const [first, second] = required.banks;
	if (!first || !second || believed.shared) return null;
	return derived(first, (k, i) => Math.max(k, second[i]!));
};

/** Bank 2 over bank 1, where both say something. */
export const betweenBanks: Reading = ({ required, believed }) => {
	const [first, second] = required.banks;
	if (!first || !second || believed.shared) return null;
	return derived(first, (k, i) => second[i]! / k);
};

/** A log that may speak, and the revision that it was made with. */
export interface Spoken {
	input: Prepared;
	/** `null`: against its own revision (for what no fuel changes). */
	against: Calibration | null;
}

/** Ends of the axes are held; a sample farther beyond them than this (in shares of the last interval) belongs to no node. */
const BEYOND = 0.5;

/** How far an axis speaks: [lowest, highest], without end for one point. */
function reach(points: ArrayLike<number>): [number, number] {
	const n = points.length;
	if (n < 2) return [-Infinity, Infinity];
	return [
		points[0]! - BEYOND * (points[1]! - points[0]!),
		points[n - 1]! + BEYOND * (points[n - 1]! - points[n - 2]!)
	];
}

/** A fuel table beside the columns of a log that it is read by. */
interface Place {
	table: FuelTable;
	values: Float64Array;
	x: Float32Array;
	/** `null` for a curve. */
	y: Float32Array | null;
	fx: AxisFinder;
	fy: AxisFinder | null;
	xReach: [number, number];
	yReach: [number, number];
}

/** @returns `null` where the log lacks a channel of the table */
function placeOf(table: FuelTable, { frame, segments }: Prepared): Place | null {
	const x = axisChannel(frame, table.x, segments.baroKpa);
	const y = table.y ? axisChannel(frame, table.y, segments.baroKpa) : null;
	if (!x || (table.y && !y)) return null;
	return {
		table,
		values: Float64Array.from(table.rows.flat()),
		x,
		y,
		fx: new AxisFinder(table.x.points),
		fy: table.y ? new AxisFinder(table.y.points) : null,
		xReach: reach(table.x.points),
		yReach: reach(table.y?.points ?? [])
	};
}

/** Columns filled together, with room for every sample that there could be. */
class Gathered {
	count = 0;
	entries = 0;
	readonly log: Uint16Array;
	readonly z: Float32Array;
	readonly band: Uint8Array;
	readonly timeS: Float64Array;
	readonly dtS: Float32Array;
	readonly pull: Int16Array;
	readonly index: Int32Array;
	readonly x: Float32Array;
	readonly y: Float32Array;
	readonly start: Int32Array;
	readonly node: Int32Array;
	readonly a: Float32Array;
	readonly b: Float32Array;

	constructor(samples: number, perSample: number) {
		this.log = new Uint16Array(samples);
		this.z = new Float32Array(samples);
		this.band = new Uint8Array(samples);
		this.timeS = new Float64Array(samples);
		this.dtS = new Float32Array(samples);
		this.pull = new Int16Array(samples);
		this.index = new Int32Array(samples);
		this.x = new Float32Array(samples);
		this.y = new Float32Array(samples);
		this.start = new Int32Array(samples + 1);
		this.node = new Int32Array(samples * perSample);
		this.a = new Float32Array(samples * perSample);
		this.b = new Float32Array(samples * perSample);
	}

	/**
	 * Adds the nodes of a table around sample `i` of its log.
	 * @returns Σ of what was added, before it is made a share; NaN beyond the axes
	 */
	around(p: Place, i: number, share: number, nearest: boolean): number {
		const x = p.x[i]!;
		const y = p.y ? p.y[i]! : 0;
		const inside = x >= p.xReach[0] && x <= p.xReach[1] && y >= p.yReach[0] && y <= p.yReach[1];
		if (!inside) return Number.NaN;
		const { nx, ny, first } = p.table;
		const px = p.fx.find(x);
		let cx = px.i;
		let tx = px.t;
		let cy = 0;
		let ty = 0;
		if (p.fy) {
			const py = p.fy.find(y);
			cy = py.i;
			ty = py.t;
		}
		if (nearest) {
			if (nx > 1 && tx >= 0.5) cx++;
			if (ny > 1 && ty >= 0.5) cy++;
			tx = ty = 0;
		}
		let total = 0;
		for (let q = 0; q < 4; q++) {
			const w = share * (q & 1 ? tx : 1 - tx) * (q & 2 ? ty : 1 - ty);
			if (!(w > 0)) continue;
			const at = (cy + (q >> 1)) * nx + cx + (q & 1);
			const own = w * p.values[at]!;
			this.node[this.entries] = first + at;
			this.b[this.entries] = w;
			this.a[this.entries] = own;
			this.entries++;
			total += own;
		}
		return total;
	}
}

/**
 * Samples of all logs that say something, in order.
 * @param method a sample speaks for the four nodes around it, as a controller interpolates, or for the nearest
 * @param allowed 1 for samples that count; those that may judge a fuel table when missing
 * @returns `null` where no log has the channels of the tables and a mixture
 */
export function samplesOf(
	logs: readonly Spoken[],
	nodes: Nodes,
	reading: Reading,
	method: 'bilinear' | 'nearest' = 'bilinear',
	allowed?: Uint8Array
): Samples | null {
	const nearest = method === 'nearest';
	const rows = logs.reduce((sum, l) => sum + l.input.frame.length, 0);
	const g = new Gathered(rows, (nearest ? 1 : 4) * (nodes.blend ? nodes.tables.length : 1));
	const lags: [number[], number[]] = [[], []];
	let stepS = 0;
	for (const [l, { input, against }] of logs.entries()) {
		const { frame, segments, believed } = input;
		const baro = segments.baroKpa;
		const k = reading(input);
		const places = nodes.tables.flatMap((t) => placeOf(t, input) ?? []);
		const shares = nodes.blend ? blendShares(frame, nodes.blend, baro) : null;
		if (!k || (nodes.blend && !shares) || places.length < nodes.tables.length) continue;
		const own = input.calibration;
		const fuel =
			against && own && own !== against
				? fuelRatio(frame, own, against, input.vehicle.injectors?.deadTimeMs ?? [], baro)
				: null;
		if (against && own && own !== against && !fuel) continue;
		stepS = Math.max(stepS, frame.stepS);
		const pullOf = new Int16Array(frame.length).fill(-1);
		segments.pulls.forEach((p, n) => pullOf.fill(n, p.from, p.to + 1));
		for (let i = 0; i < frame.length; i++) {
			let v = k[i]!;
			if (v !== v || !(allowed ? allowed[i] : usable(segments, i))) continue;
			if (fuel) v /= fuel.ratio[i]! * fuel.targetRatio[i]!;
			if (!(v > 0)) continue;
			const from = g.entries;
			let total = 0;
			// Plain indices: an iterator here makes an object a sample.
			for (let m = 0; m < places.length; m++) {
				const share = shares ? shares[m]![i]! : 1;
				if (share > 0) total += g.around(places[m]!, i, share, nearest);
			}
			// Beyond the axes, or where the table gives nothing, it can't be corrected by a share of itself.
			if (!(total > 0)) {
				g.entries = from;
				continue;
			}
			for (let e = from; e < g.entries; e++) g.a[e]! /= total;
			const s = g.count++;
			const band = segments.flags[i]! & FLAG.loaded ? LOADED : 0;
			g.log[s] = l;
			g.z[s] = v - 1;
			g.band[s] = band;
			g.timeS[s] = frame.timeS[i]!;
			g.dtS[s] = frame.dtS[i]!;
			g.pull[s] = pullOf[i]!;
			g.index[s] = i;
			g.x[s] = places[0]!.x[i]!;
			g.y[s] = places[0]!.y ? places[0]!.y[i]! : 0;
			g.start[g.count] = g.entries;
			if (s % 50 === 0) lags[band].push(believed.lagS[i]!);
		}
	}
	if (g.count === 0) return null;
	const lag = (b: 0 | 1) => (lags[b].length ? median(lags[b]) : 0);
	const n = g.count;
	return {
		count: n,
		log: g.log.subarray(0, n),
		z: g.z.subarray(0, n),
		band: g.band.subarray(0, n),
		timeS: g.timeS.subarray(0, n),
		dtS: g.dtS.subarray(0, n),
		pull: g.pull.subarray(0, n),
		index: g.index.subarray(0, n),
		x: g.x.subarray(0, n),
		y: g.y.subarray(0, n),
		start: g.start.subarray(0, n + 1),
		node: g.node.subarray(0, g.entries),
		a: g.a.subarray(0, g.entries),
		b: g.b.subarray(0, g.entries),
		lagS: [lag(0), lag(1)],
		stepS: stepS || 0.05
	};
}
