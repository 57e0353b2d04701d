/**
 * The field never outruns its data: no node stands beyond what the stretches inside its own support say. A step of the need inside a cell
 * would else swing the nodes on both sides of it past everything that was measured. Only where the need rises towards the node on both of
 * its flanks, a ridge, does it stand higher than any of its samples: then what the slopes say at the node itself is the limit.
 */
import type { Field } from './field.ts';
import type { FuelTable } from './nodes.ts';
import type { Samples } from './samples.ts';

/** Weight of a node in a sample from which the sample is inside its support. */
const INSIDE = 0.25;
const LEAST_S = 0.2;
const LEAST_SAMPLES = 3;
/** A stretch ends at a gap this long. */
const GAP_S = 0.3;
/** Beyond what its stretches say by no more than this and their error. */
const MARGIN = 0.01;
const SLOPE_SE = 2;
/** Of several stretches not the farthest one counts, which is the noisiest: this quantile. */
const QUANTILE = 0.85;
const LEAST_ON_FLANK = 5;

interface Stretch {
	mean: number;
	se: number;
}

/** One flank of a node: sums for a straight line of the need over the weight. */
class Flank {
	n = 0;
	private sb = 0;
	private sz = 0;
	private sbb = 0;
	private sbz = 0;
	private szz = 0;
	add(b: number, z: number): void {
		this.n++;
		this.sb += b;
		this.sz += z;
		this.sbb += b * b;
		this.sbz += b * z;
		this.szz += z * z;
	}
	/** Slope with its error, and what the line says at the node; `null` where too little says so. */
	line(): { slope: number; se: number; at: number } | null {
		const { n, sb, sz, sbb, sbz, szz } = this;
		const spread = sbb - (sb * sb) / n;
		if (n < LEAST_ON_FLANK || !(spread > 1e-6)) return null;
		const slope = (sbz - (sb * sz) / n) / spread;
		const left = Math.max(0, szz - (sz * sz) / n - slope * (sbz - (sb * sz) / n));
		return { slope, se: Math.sqrt(left / Math.max(1, n - 2) / spread), at: sz / n + slope * (1 - sb / n) };
	}
}

class NodeData {
	readonly stretches: Stretch[] = [];
	readonly left = new Flank();
	readonly right = new Flank();
	private sum = 0;
	private n = 0;
	private seconds = 0;
	private lastS = -Infinity;
	private log = -1;

	add(z: number, t: number, dt: number, log: number, se: (seconds: number) => number): void {
		if (log !== this.log || t - this.lastS > GAP_S) this.close(se);
		this.log = log;
		this.lastS = t;
		this.sum += z;
		this.n++;
		this.seconds += dt;
	}
	close(se: (seconds: number) => number): void {
		if (this.n >= LEAST_SAMPLES && this.seconds >= LEAST_S - 1e-9)
			this.stretches.push({ mean: this.sum / this.n, se: se(this.seconds) });
		this.sum = this.n = this.seconds = 0;
	}
}

/** The field with no node beyond its data, in either direction. */
export function capped(field: Field, s: Samples): Field {
	const { nodes, noise } = field;
	const data = new Map<number, NodeData>();
	const xOf = nodeX(nodes.tables, nodes.count);
	for (let i = 0; i < s.count; i++) {
		const band = s.band[i] as 0 | 1;
		const se = (seconds: number) => noise.sigma[band] * Math.sqrt(Math.min(1, noise.scaleS[band] / seconds));
		const z = s.z[i]! - (field.offsets[s.log[i]!]?.value ?? 0);
		for (let e = s.start[i]!; e < s.start[i + 1]!; e++) {
			const b = s.b[e]!;
			if (b < INSIDE) continue;
			const node = s.node[e]!;
			let d = data.get(node);
			if (!d) data.set(node, (d = new NodeData()));
			d.add(z, s.timeS[i]!, s.dtS[i]!, s.log[i]!, se);
			(s.x[i]! < xOf[node]! ? d.left : d.right).add(b, z);
		}
	}
	const low = new Float64Array(nodes.count).fill(Number.NaN);
	const high = new Float64Array(nodes.count).fill(Number.NaN);
	for (const [node, d] of data) {
		d.close((seconds) => noise.sigma[1] * Math.sqrt(Math.min(1, noise.scaleS[1] / seconds)));
		if (d.stretches.length === 0) continue;
		high[node] = limit(d, 1);
		low[node] = limit(d, -1);
	}
	return { ...field, d: field.d.map((v, i) => bounded(v, i, nodes.tables, low, high)) };
}

/** How far a node may go in one direction by its own data. */
function limit(d: NodeData, sign: 1 | -1): number {
	const said = d.stretches.map((r) => sign * r.mean + r.se).sort((a, b) => a - b);
	const most = said[Math.floor((said.length - 1) * (said.length > 2 ? QUANTILE : 1))]! + MARGIN;
	const [l, r] = [d.left.line(), d.right.line()];
	const ridge = l && r && sign * l.slope > SLOPE_SE * l.se && sign * r.slope > SLOPE_SE * r.se;
	const carried = ridge ? Math.max(sign * l.at + l.se, sign * r.at + r.se) : -Infinity;
	return sign * Math.max(most, carried);
}

/** A node without a stretch of its own goes no further than the nodes around it that have one. */
function bounded(
	v: number,
	i: number,
	tables: readonly FuelTable[],
	low: Float64Array,
	high: Float64Array
): number {
	let [from, to] = [low[i]!, high[i]!];
	if (from !== from) {
		const t = tables.find((x) => i >= x.first && i < x.first + x.nx * x.ny)!;
		const [c, r] = [(i - t.first) % t.nx, Math.floor((i - t.first) / t.nx)];
		for (let dr = -1; dr <= 1; dr++)
			for (let dc = -1; dc <= 1; dc++) {
				if (c + dc < 0 || c + dc >= t.nx || r + dr < 0 || r + dr >= t.ny) continue;
				const k = t.first + (r + dr) * t.nx + c + dc;
				if (low[k]! < from || from !== from) from = low[k]!;
				if (high[k]! > to || to !== to) to = high[k]!;
			}
	}
	return from === from ? Math.min(to, Math.max(from, v)) : v;
}

function nodeX(tables: readonly FuelTable[], count: number): Float64Array {
	const out = new Float64Array(count);
	for (const t of tables)
		for (let r = 0; r < t.ny; r++)
			for (let c = 0; c < t.nx; c++) out[t.first + r * t.nx + c] = t.x.points[c]!;
	return out;
}
