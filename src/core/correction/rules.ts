/**
 * From the field to what may change: adding fuel where the engine wants it, taking it out only as far as is certain, nothing where
 * nobody drove. Every node says what it rests on, or why it stays.
 */
import type { Barred, Barring } from './barred.ts';
import type { Field } from './field.ts';
import { steps, type FuelTable } from './nodes.ts';
import type { Strategy } from './strategy.ts';

export type Basis = 'measured' | 'carried';
/** Why a node that the field would change stays as it is. */
export type Stays = 'quiet' | 'removal-held' | 'far' | 'unsure' | 'held';

export interface NodeChange {
	/** Share of the node's value; 0 where it stays. */
	delta: number;
	basis: Basis | null;
	/** Standard deviation of what the node wants, the day's scatter in it. */
	sdTotal: number;
	/** Above the highest load that was driven at this speed: as its edge. */
	upwards: boolean;
	/** So much fuel that a misfire could be behind it: a person is asked. */
	ask: boolean;
	/** Its own samples are leaner than the field. */
	misfit: boolean;
	stays: Stays | null;
	/** What keeps fuel in here, where that is a matter of the place. */
	barred: Barring | null;
}

export interface Grounds {
	strategy: Strategy;
	baroKpa: number;
	/** Why no fuel may come out anywhere; `null` where it may. */
	noRemoval: boolean;
	/** Per node, 1: no fuel comes out here (a learned trim whose effect isn't known). */
	keep: Uint8Array;
	/** Where no fuel comes out for want of a witness, and where that is asked. */
	barred: Barred;
	/** Per node the change with which the mixture under load stays as it is, whatever the trims hold; NaN where nothing is known of that. */
	kept: Float64Array;
	/** Per node, share of its value that has to stay in for the leanest cylinder. */
	leanCylinder: Float64Array;
	/** Per node, 1: nothing may be learnt here, and no neighbour's change goes here. */
	held: Uint8Array;
	/** Per node, 1: two independent witnesses agree here. */
	agreed: Uint8Array;
	/** Half the difference of the banks, per node, for loaded nodes of banks between watch and fix; `null` otherwise. */
	leanerBank: Float64Array | null;
	/** Misfires are counted: a large addition is no question. */
	counted: boolean;
}

/** Trust, and standard deviation, from which a neighbour's word is carried. */
const CARRY_TRUST = 0.8;
const CARRY_SD = 0.03;
/** A member of a blend is measured up to this. */
const MEMBER_SD_PCT = 2.5;
/** How far above the highest measured load its change is taken along, steps of 20 kPa. */
const UPWARDS_STEPS = 3;
/** An addition over this is asked where no misfires are counted: a misfire reads lean. */
const ASK_PCT = 8;

/** @returns one per node, in the order of the nodes */
export function changesOf(f: Field, g: Grounds): NodeChange[] {
	const { strategy: s } = g;
	const logs = f.offsets.length;
	// The day's scatter once: with one log it is in the sd already, with several a share of it is.
	const dayVariance = f.day ** 2 * (1 - 1 / Math.max(1, logs));
	const quiet = s.quietPct / 100;
	const out = Array.from({ length: f.d.length }, (_, i): NodeChange => {
		const sdTotal = Math.sqrt(f.sd[i]! ** 2 + dayVariance);
		const own = f.d[i]! + (g.leanerBank?.[i] ?? 0);
		const fitted = f.misfit[i] ? Math.max(own, own + f.miss[i]!) : own;
		// Where nothing comes out, nothing comes out by way of the trims either: what they hold goes in.
		const leans = fitted < g.kept[i]! - quiet && g.kept[i]! > quiet;
		const keeps = leans && (g.barred.why[i] !== null || (g.barred.ask[i] === 1 && s.cautious));
		const mean = keeps ? g.kept[i]! : fitted;
		// What the mean of a bank has too much is what its leanest cylinder lives on.
		const asItIs = Number.isFinite(g.kept[i]!) ? g.kept[i]! : 0;
		const wants = mean < asItIs ? Math.max(mean, Math.min(asItIs, mean + g.leanCylinder[i]!)) : mean;
		let delta = 0;
		let stays: Stays | null = null;
		let barred: Barring | null = null;
		if (g.held[i]) stays = 'held';
		else if (wants > 0) {
			if (wants > Math.max(quiet, f.sd[i]!)) delta = Math.min(wants * s.addShare, s.maxPct / 100);
			else stays = 'quiet';
		} else {
			const sure = Math.min(wants + sdTotal, 0) * s.removeShare;
			const most = (g.agreed[i] ? s.maxRemoveAgreedPct : s.maxRemovePct) / 100;
			if (sure > -quiet) {
				const cylinder = g.leanCylinder[i]! > 0 && Math.min(mean + sdTotal, 0) * s.removeShare <= -quiet;
				stays = cylinder ? 'removal-held' : 'quiet';
				barred = cylinder ? 'cyl.lambda' : null;
			} else if (g.barred.why[i]) {
				barred = g.barred.why[i]!;
				stays = 'removal-held';
			} else if (g.noRemoval || g.keep[i] || f.misfit[i]) stays = 'removal-held';
			else delta = Math.max(sure, -most, -s.maxPct / 100);
		}
		return {
			delta,
			basis: null,
			sdTotal,
			upwards: false,
			ask: g.barred.ask[i] === 1 && (delta < 0 || (leans && !keeps)),
			misfit: f.misfit[i] === 1,
			stays,
			barred
		};
	});
	const measured = measuredNodes(f, s);
	for (const t of f.nodes.tables) place(f, g, t, measured, out);
	out.forEach((n, i) => {
		if (g.counted || n.delta * 100 <= ASK_PCT) return;
		// What the trims give today is no question: left out with the rest, it would be missing once they are reset.
		if (s.cautious && g.kept[i]! > quiet) n.delta = Math.min(n.delta, g.kept[i]!);
		else n.ask = true;
	});
	return out;
}

/** 1 where a node has samples of its own and is known well enough; in a blend where any member is. */
export function measuredNodes(f: Field, s: Strategy): Uint8Array {
	const { tables } = f.nodes;
	const most = (tables.length > 1 ? Math.max(s.mostSdPct, MEMBER_SD_PCT) : s.mostSdPct) / 100;
	const own = Uint8Array.from(f.d, (_, i) =>
		f.support[i]! >= s.minSamples && f.seconds[i]! >= s.minSeconds - 1e-9 && f.sd[i]! <= most ? 1 : 0
	);
	const same = tables.every((t) => t.nx * t.ny === tables[0]!.nx * tables[0]!.ny);
	if (tables.length < 2 || !same) return own;
	const size = tables[0]!.nx * tables[0]!.ny;
	return own.map((_, i) => (tables.some((t) => own[t.first + (i % size)]) ? 1 : 0));
}

/** Says of each node of a table what its change rests on, and takes back what rests on nothing. */
function place(f: Field, g: Grounds, t: FuelTable, measured: Uint8Array, out: NodeChange[]): void {
	const x = steps(t.x, g.baroKpa);
	const y = t.y ? steps(t.y, g.baroKpa) : new Float64Array(1);
	const { nx, ny, first } = t;
	const at = (r: number, c: number) => first + r * nx + c;
	const isMeasured = (r: number, c: number) => measured[at(r, c)] === 1;
	const { left, right } = reachAlong(ny, nx, isMeasured);
	const { left: below, right: above } = reachAlong(nx, ny, (c, r) => isMeasured(r, c));
	for (let r = 0; r < ny; r++)
		for (let c = 0; c < nx; c++) {
			const node = out[at(r, c)]!;
			const i = at(r, c);
			if (isMeasured(r, c)) {
				node.basis = 'measured';
				continue;
			}
			const sure = g.strategy.carry && f.trust[i]! >= CARRY_TRUST && f.sd[i]! <= CARRY_SD;
			if (sure && near(x, y, r, c, isMeasured)) {
				const between = (left[r * nx + c] && right[r * nx + c]) || (below[c * ny + r] && above[c * ny + r]);
				if (node.delta >= 0 || between) {
					node.basis = 'carried';
					continue;
				}
			}
			if (node.delta !== 0 || node.stays === 'quiet') node.stays = f.support[i]! > 0 ? 'unsure' : 'far';
			node.delta = 0;
		}
	if (g.strategy.carry && ny > 1) upwards(f, g, t, y, isMeasured, out);
}

/** Whether a measured node lies before and after each place of each line. */
function reachAlong(lines: number, length: number, measured: (line: number, i: number) => boolean) {
	const left = new Uint8Array(lines * length);
	const right = new Uint8Array(lines * length);
	for (let l = 0; l < lines; l++) {
		let seen = 0;
		for (let i = 0; i < length; i++) {
			left[l * length + i] = seen;
			if (measured(l, i)) seen = 1;
		}
		seen = 0;
		for (let i = length - 1; i >= 0; i--) {
			right[l * length + i] = seen;
			if (measured(l, i)) seen = 1;
		}
	}
	return { left, right };
}

/** Whether a measured node lies within a step (500 rpm, 20 kPa) or is the next along both axes. */
function near(
	x: Float64Array,
	y: Float64Array,
	r: number,
	c: number,
	measured: (r: number, c: number) => boolean
): boolean {
	const within = (p: Float64Array, i: number, k: number) => Math.abs(p[i]! - p[k]!) <= 1 + 1e-9;
	const span = (p: Float64Array, i: number): [number, number] => {
		let low = Math.max(0, i - 1);
		let high = Math.min(p.length - 1, i + 1);
		while (low > 0 && within(p, low - 1, i)) low--;
		while (high + 1 < p.length && within(p, high + 1, i)) high++;
		return [low, high];
	};
	const [r0, r1] = span(y, r);
	const [c0, c1] = span(x, c);
	for (let k = r0; k <= r1; k++) for (let l = c0; l <= c1; l++) if (measured(k, l)) return true;
	return false;
}

/** Above the highest measured load of a column nothing stays leaner than its edge: the next boost step goes there. */
function upwards(
	f: Field,
	g: Grounds,
	t: FuelTable,
	y: Float64Array,
	measured: (r: number, c: number) => boolean,
	out: NodeChange[]
): void {
	for (let c = 0; c < t.nx; c++) {
		let top = -1;
		for (let r = 0; r < t.ny; r++) if (measured(r, c)) top = r;
		if (top < 0) continue;
		const edge = out[t.first + top * t.nx + c]!;
		for (let r = top + 1; r < t.ny && y[r]! - y[top]! <= UPWARDS_STEPS + 1e-9; r++) {
			const i = t.first + r * t.nx + c;
			const node = out[i]!;
			if (g.held[i]) continue;
			const field = f.d[i]! > f.sd[i]! ? f.d[i]! * g.strategy.addShare : 0;
			const delta = Math.min(Math.max(field, edge.delta, 0), g.strategy.maxPct / 100);
			if (delta <= Math.max(node.delta, 0)) continue;
			node.delta = delta;
			node.basis = 'carried';
			node.upwards = true;
			node.stays = null;
		}
	}
}

export interface LevelOnly {
	/** Percent: what all of the table is off by. */
	pct: number;
	se: number;
}

/** Measured nodes from which a level is more than one place. */
const LEVEL_NODES = 6;
const ROUGH_PCT = 1;

/** The level, where the error is nothing but one: today's air, one number instead of every cell. */
export function levelOnly(f: Field, s: Strategy): LevelOnly | null {
	const measured = measuredNodes(f, s);
	const at = Array.from(f.d.keys()).filter((i) => measured[i] === 1 && f.support[i]! > 0);
	if (at.length < LEVEL_NODES) return null;
	const weight = at.reduce((sum, i) => sum + f.seconds[i]!, 0);
	const mean = at.reduce((sum, i) => sum + f.seconds[i]! * f.d[i]!, 0) / weight;
	const sd = Math.min(f.level.sd, Math.min(...at.map((i) => f.sd[i]!)));
	const rough = Math.max(...at.map((i) => Math.abs(f.d[i]! - mean)));
	if (Math.abs(mean) <= 2 * sd || rough * 100 > ROUGH_PCT || Math.abs(mean) * 100 < s.quietPct) return null;
	return { pct: 100 * mean, se: 100 * sd };
}
