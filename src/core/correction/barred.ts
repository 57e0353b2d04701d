/**
 * Where no fuel comes out whatever a log says: of a bank that nobody saw nothing is known, and a sensor without pressure compensation reads
 * rich under boost when it is the only one there. Adding is never barred.
 */
import { axisChannel, turner } from '../calibration/axes.ts';
import { AxisFinder } from '../calibration/grid.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { compensated, kindOf } from '../evidence/lambda/witnesses.ts';
import { bankCount } from '../vehicle/facts.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import type { FuelTable, Nodes } from './nodes.ts';
import { LOADED, type Samples } from './samples.ts';

/** Finding whose matter it is. */
export type Barring = 'bank.unseen' | 'sensor.alone' | 'sensor.lambda' | 'knock.real' | 'cyl.lambda';

/** How much it knocks in the logs: enough for a finding to act on, or less. */
export type Knocks = 'open' | 'little' | null;

export interface Barred {
	/** Per node: why nothing comes out; `null` where it may. */
	why: (Barring | null)[];
	/** Per node, 1: what comes out is asked, not taken for granted. */
	ask: Uint8Array;
}

/** A node counts as loaded from this far below the barometer, as boosted from this far above it, kPa. */
const LOADED_BELOW_KPA = 30;
const BOOSTED_ABOVE_KPA = 20;
/** Place on the axis that a curve doesn't have. */
const ALL_IN_ONE = { i: 0, t: 0 };
/** Weight of a node in a sample from which the sample feeds it. */
const FEEDS = 0.25;

/** Whether a bank's gas was seen by no sensor of its own in any of the logs. */
export function bankUnseenIn(logs: readonly Prepared[]): boolean {
	return (
		logs.some(({ vehicle }) => bankCount(vehicle) === 2) &&
		[0, 1].some((bank) => !logs.some((l) => seesBank(l, bank)))
	);
}

export const seesBank = ({ believed }: Prepared, bank: number): boolean =>
	believed.sources[bank]?.some((s) => s.site !== 'collector') ?? false;

/** What is known of the only witnesses under boost: `true` compensated, `false` not, `null` nobody said; `undefined` where they aren't alone. */
export function aloneUnderBoost(logs: readonly Prepared[]): boolean | null | undefined {
	const sources = logs.flatMap(({ believed, vehicle }) =>
		believed.all.map((s) => ({ channel: s.channel, vehicle }))
	);
	if (sources.length === 0 || sources.some((s) => kindOf(s.channel, s.vehicle) === 'independent'))
		return undefined;
	return compensated(sources);
}

/**
 * @param logs behind the samples, in the order of their indices
 * @param knocks it knocks in one of these logs: a mixture richer than its target may be what keeps the rest of it quiet. A little asks first
 * @param elsewhere 1 for nodes at which the bank that these logs don't see was measured by other logs
 */
export function barredNodes(
	logs: readonly Prepared[],
	s: Samples,
	nodes: Nodes,
	knocks: Knocks,
	elsewhere?: Uint8Array
): Barred {
	const why: Barred['why'] = new Array<Barring | null>(nodes.count).fill(null);
	const ask = new Uint8Array(nodes.count);
	const { baroKpa } = logs[0]!.segments;
	const at = (aboveBaroKpa: number, fed: (i: number) => boolean): Uint8Array => {
		const out = new Uint8Array(nodes.count);
		for (const t of nodes.tables)
			if (!markFrom(out, t, baroKpa + aboveBaroKpa, baroKpa) && Number.isFinite(aboveBaroKpa))
				for (const log of logs) markReached(out, t, log, aboveBaroKpa);
		for (let i = 0; i < s.count; i++)
			if (fed(i))
				for (let e = s.start[i]!; e < s.start[i + 1]!; e++) if (s.b[e]! >= FEEDS) out[s.node[e]!] = 1;
		return out;
	};
	const alone = aloneUnderBoost(logs);
	if (alone === false || alone === null) {
		const maps = logs.map((l) => l.frame.get('map'));
		const boosted = at(
			BOOSTED_ABOVE_KPA,
			(i) => (maps[s.log[i]!]?.[s.index[i]!] ?? 0) > logs[s.log[i]!]!.segments.baroKpa + BOOSTED_ABOVE_KPA
		);
		boosted.forEach((b, n) => {
			if (!b) return;
			if (alone === false) why[n] = 'sensor.alone';
			else ask[n] = 1;
		});
	}
	const apart = at(Infinity, (i) => logs[s.log[i]!]!.believed.doubtful[s.index[i]!] === 1);
	apart.forEach((doubt, n) => {
		if (doubt) why[n] = 'sensor.lambda';
	});
	if (knocks)
		at(-LOADED_BELOW_KPA, (i) => s.band[i] === LOADED).forEach((loaded, n) => {
			if (!loaded) return;
			if (knocks === 'open') why[n] = 'knock.real';
			else ask[n] = 1;
		});
	if (bankUnseenIn(logs))
		at(-LOADED_BELOW_KPA, (i) => s.band[i] === LOADED).forEach((loaded, n) => {
			if (elsewhere?.[n]) return;
			if (loaded) why[n] = 'bank.unseen';
			else ask[n] = 1;
		});
	return { why, ask };
}

/** Marks the rows of a table whose cells reach over a pressure; `false` where the table isn't read by pressure. */
function markFrom(out: Uint8Array, t: FuelTable, fromKpa: number, baroKpa: number): boolean {
	const toKpa = t.y && turner(t.y, { channel: 'map' }, baroKpa);
	if (!toKpa) return false;
	const points = t.y!.points.map(toKpa);
	points.forEach((kpa, r) => {
		// A cell reaches half of the way to the next one: what is taken out of it leans the engine that far up.
		if ((kpa + (points[r + 1] ?? kpa)) / 2 >= fromKpa)
			out.fill(1, t.first + r * t.nx, t.first + (r + 1) * t.nx);
	});
	return true;
}

/**
 * Marks the nodes of a table that isn't read by pressure (an air meter's curve) through which the engine went at a pressure, settled or not:
 * the same flow at part load is the same node.
 */
function markReached(
	out: Uint8Array,
	t: FuelTable,
	{ frame, segments }: Prepared,
	aboveBaroKpa: number
): void {
	const map = frame.get('map');
	const x = axisChannel(frame, t.x, segments.baroKpa);
	const y = t.y && axisChannel(frame, t.y, segments.baroKpa);
	if (!x || (t.y && !y)) return;
	const across = new AxisFinder(t.x.points);
	const down = t.y && new AxisFinder(t.y.points);
	const from = segments.baroKpa + aboveBaroKpa;
	for (let i = 0; i < frame.length; i++) {
		if (map ? !(map[i]! >= from) : !(segments.flags[i]! & FLAG.loaded)) continue;
		if (x[i]! !== x[i]! || (y && y[i]! !== y[i]!)) continue;
		const { i: column, t: tx } = across.find(x[i]!);
		const { i: row, t: ty } = down && y ? down.find(y[i]!) : ALL_IN_ONE;
		const first = t.first + row * t.nx + column;
		if ((1 - tx) * (1 - ty) >= FEEDS) out[first] = 1;
		if (tx * (1 - ty) >= FEEDS) out[first + 1] = 1;
		if ((1 - tx) * ty >= FEEDS) out[first + t.nx] = 1;
		if (tx * ty >= FEEDS) out[first + t.nx + 1] = 1;
	}
}
