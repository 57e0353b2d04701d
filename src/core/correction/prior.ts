/**
 * What is known of the requirement before any sample: it is smooth over physical distance. Differences and changes of slope between
 * neighbouring nodes are small, members of a blend want nearly the same, and everything is drawn back to a level and a tilt along
 * each axis. Scaled by the spacing along and across, so that more or closer breakpoints say the same.
 *
 * Sources: Eilers & Marx 1996 (penalised smoothing); Rue & Held 2005 (Gaussian Markov random fields).
 */
import { AxisFinder } from '../calibration/grid.ts';
import { Banded } from './banded.ts';
import { steps, type FuelTable, type Nodes } from './nodes.ts';

export interface PriorScales {
	/** First difference over one step (500 rpm, 20 kPa). */
	tau1: number;
	/** Change of slope from one step to the next. */
	tau2: number;
	/** What a node may be off beyond level and tilts. */
	node: number;
	level: number;
	/** From one end of an axis to the other. */
	tilt: number;
	/** Members of a blend, one from the next. */
	members: number;
	/** From one day to another: same car, same revision. */
	day: number;
}

/** Shares; how they were calibrated stands in the decision record. */
export const SCALES: PriorScales = {
	tau1: 0.05,
	tau2: 0.04,
	node: 0.15,
	level: 0.15,
	tilt: 0.1,
	members: 0.03,
	day: 0.007
};

/** A combination of nodes that is near zero: Σ c · f ~ N(0, sd²). */
interface Tie {
	nodes: number[];
	c: number[];
	sd: number;
	/** Whether it gives way where the field doesn't fit. */
	loosens: boolean;
}

export class Prior {
	readonly ties: Tie[];
	/** Place of each node in the banded system. */
	readonly order: Int32Array;
	/** Coefficients of level, tilt along x and tilt along y per node. */
	readonly level: Float64Array;
	readonly tiltX: Float64Array;
	readonly tiltY: Float64Array;

	constructor(
		readonly nodes: Nodes,
		readonly baroKpa: number,
		readonly scales: PriorScales = SCALES
	) {
		const at = nodes.tables.map((t) => ({
			t,
			x: steps(t.x, baroKpa),
			y: t.y ? steps(t.y, baroKpa) : new Float64Array(1)
		}));
		this.ties = [
			...at.flatMap(({ t, x, y }) => smooth(t, x, y, scales)),
			...nodes.tables.flatMap((t, m) => {
				const next = nodes.tables[m + 1];
				return next ? between(t, next, scales.members) : [];
			})
		];
		this.level = new Float64Array(nodes.count).fill(1);
		this.tiltX = new Float64Array(nodes.count);
		this.tiltY = new Float64Array(nodes.count);
		for (const { t, x, y } of at) {
			const along = (p: Float64Array, i: number) => {
				const span = p[p.length - 1]!;
				return span > 0 ? (p[i]! - p.reduce((s, v) => s + v, 0) / p.length) / span : 0;
			};
			for (let r = 0; r < t.ny; r++)
				for (let c = 0; c < t.nx; c++) {
					const i = t.first + r * t.nx + c;
					this.tiltX[i] = along(x, c);
					this.tiltY[i] = t.ny > 1 ? along(y, r) : 0;
				}
		}
		this.order = orderOf(nodes);
	}

	/** How far below the diagonal the ties reach. */
	get width(): number {
		return this.ties.reduce((w, { nodes }) => {
			const places = nodes.map((i) => this.order[i]!);
			return Math.max(w, Math.max(...places) - Math.min(...places));
		}, 0);
	}

	/** Coefficients of level and tilts in the order of the band: what makes a node of f a node of d. */
	mix(): Float64Array[] {
		return [this.level, this.tiltX, this.tiltY].map((of) => {
			const out = new Float64Array(of.length);
			of.forEach((v, i) => (out[this.order[i]!] = v));
			return out;
		});
	}

	/** @param loose factor per node by which its ties give way */
	matrix(width: number, loose: Float64Array | null): Banded {
		const out = new Banded(this.nodes.count, width);
		for (const { nodes, c, sd, loosens } of this.ties) {
			const give = loosens && loose ? nodes.reduce((m, i) => Math.max(m, loose[i]!), 1) : 1;
			const w = 1 / (sd * give) ** 2;
			for (let p = 0; p < nodes.length; p++)
				for (let q = 0; q <= p; q++)
					out.add(this.order[nodes[p]!]!, this.order[nodes[q]!]!, w * c[p]! * c[q]!);
		}
		for (let i = 0; i < this.nodes.count; i++) out.add(i, i, 1 / this.scales.node ** 2);
		return out;
	}
}

function smooth(t: FuelTable, x: Float64Array, y: Float64Array, s: PriorScales): Tie[] {
	const ties: Tie[] = [];
	const along = (p: Float64Array, across: Float64Array, at: (i: number, k: number) => number) => {
		// How wide a strip each line across stands for.
		const strip = Array.from(across, (_, k) => {
			const below = k > 0 ? across[k]! - across[k - 1]! : null;
			const above = k + 1 < across.length ? across[k + 1]! - across[k]! : null;
			return below === null ? (above ?? 1) : above === null ? below : (below + above) / 2;
		});
		for (let k = 0; k < across.length; k++)
			for (let i = 0; i < p.length; i++) {
				const h = i + 1 < p.length ? p[i + 1]! - p[i]! : null;
				if (h !== null)
					ties.push({
						nodes: [at(i, k), at(i + 1, k)],
						c: [1, -1],
						sd: s.tau1 * Math.sqrt(h / strip[k]!),
						loosens: true
					});
				if (h === null || i === 0) continue;
				const before = p[i]! - p[i - 1]!;
				ties.push({
					nodes: [at(i - 1, k), at(i, k), at(i + 1, k)],
					c: [1 / before, -1 / before - 1 / h, 1 / h],
					sd: s.tau2 / Math.sqrt((before + h) / 2) / Math.sqrt(strip[k]!),
					loosens: true
				});
			}
	};
	along(x, y, (i, k) => t.first + k * t.nx + i);
	along(y, x, (i, k) => t.first + i * t.nx + k);
	return ties;
}

/** Each node of one member against the same place of the next. */
function between(a: FuelTable, b: FuelTable, sd: number): Tie[] {
	const fx = new AxisFinder(b.x.points);
	const fy = new AxisFinder(b.y?.points ?? [0]);
	return Array.from({ length: a.nx * a.ny }, (_, n): Tie => {
		const { i, t } = fx.find(a.x.points[n % a.nx]!);
		const { i: j, t: u } = fy.find(a.y?.points[Math.floor(n / a.nx)] ?? 0);
		const nodes = [a.first + n];
		const c = [1];
		for (const [dx, wx] of [
			[0, 1 - t],
			[1, t]
		] as const)
			for (const [dy, wy] of [
				[0, 1 - u],
				[1, u]
			] as const)
				if (wx * wy > 0) {
					nodes.push(b.first + (j + dy) * b.nx + i + dx);
					c.push(-wx * wy);
				}
		return { nodes, c, sd, loosens: false };
	});
}

/** Nodes in the order that keeps the band narrow: along the longer axis, members side by side. */
function orderOf(nodes: Nodes): Int32Array {
	const byRow = nodes.tables.every((t) => t.ny >= t.nx);
	const all: { node: number; key: [number, number, number] }[] = nodes.tables.flatMap((t) =>
		Array.from({ length: t.nx * t.ny }, (_, n) => {
			const x = t.x.points[n % t.nx]!;
			const y = t.y?.points[Math.floor(n / t.nx)] ?? 0;
			return { node: t.first + n, key: byRow ? [y, x, t.member] : [x, y, t.member] };
		})
	);
	all.sort((a, b) => a.key[0] - b.key[0] || a.key[1] - b.key[1] || a.key[2] - b.key[2]);
	const order = new Int32Array(nodes.count);
	all.forEach(({ node }, place) => (order[node] = place));
	return order;
}
