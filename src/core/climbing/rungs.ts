/** Rungs of the ladder as changes of the revision. Each changes one kind of thing, and none of them is ever taken by itself. */
import {
	decimalsOf,
	findItem,
	findMap,
	roundTo,
	type CurveItem,
	type MapItem
} from '../calibration/document.ts';
import { AxisFinder } from '../calibration/grid.ts';
import { itemKind } from '../calibration/items.ts';
import { marked } from '../format.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import { goalBoost } from '../fuelling/goal.ts';
import type { CellChange, ItemProposal } from '../revising/proposal.ts';
import type { LadderCase } from './case.ts';

/** A step of boost, kPa. Own choice. */
const BOOST_STEP_KPA = 20;
/** Timing that goes in less for each kPa beyond what was driven: 1° per 7 kPa on petrol, 1° per 14 kPa from 60 % ethanol. Own choice. */
const PETROL_KPA_PER_DEG = 7;
const ETHANOL_KPA_PER_DEG = 14;
const ETHANOL_FROM_PCT = 60;
/** Fuel that goes in more beyond what was driven. Own choice. */
const MORE_FUEL = 1.01;
/** Timing of a rung, and what comes out again where it knocked. Common practice. */
const TIMING_STEP_DEG = 1;
const BACK_DEG = 2;
/** What a cell has to have seen before a degree goes in. Own choice. */
const LEAST_PULLS = 2;
const LEAST_S = 1;
const PULLED_DEG = 0.5;
const WITHIN = 0.03;
/** Share in the interpolated timing from which a cell counts as one that was there. */
const PART = 0.1;

export interface Rung {
	kind: 'fuel' | 'banks' | 'boost' | 'timing' | 'done';
	/** Largest set point (kPa) or timing (°) that the rung touches, before and after; `null` where it has none. */
	from: number | null;
	to: number | null;
}

export interface Step {
	rung: Rung;
	changes: ItemProposal[];
	/** How it is driven, where no table sets it. */
	drive?: string;
}

const cell = (x: number, y: number, from: number, to: number): CellChange => ({
	x,
	y,
	from,
	to,
	basis: 'carried',
	samples: 0,
	se: null
});

/** Engine speeds and values of the set point; of a map the row of the widest opening. */
function setPoints(
	item: CurveItem | MapItem
): { rpm: readonly number[]; rows: number[][]; ys: readonly number[] } | null {
	if (item.x.channel !== 'rpm') return null;
	return item.kind === 'curve'
		? { rpm: item.x.points, rows: [item.values], ys: [0] }
		: { rpm: item.x.points, rows: item.values, ys: item.y.points };
}

/** The next rung of boost; `null` where the goal is reached, or has none, or there is no set point. */
export function boostStep(c: LadderCase): Step | null {
	const item = findItem(c.calibration, 'boost.target');
	if (!item || (item.kind !== 'curve' && item.kind !== 'map') || !c.goal.boostKpa) return null;
	if (item.unit && item.unit !== 'kPa') return null;
	const at = setPoints(item);
	if (!at) return null;
	const decimals = decimalsOf(item);
	const cells: CellChange[] = [];
	const top = at.rows.at(-1)!;
	at.rows.forEach((row, r) =>
		row.forEach((from, k) => {
			const goal = goalBoost(c.goal, at.rpm[k]!)!;
			// Of a map only what stands at the highest set point of that speed is raised.
			if (from < top[k]! - 1e-9) return;
			const to = roundTo(Math.min(goal, from + BOOST_STEP_KPA), decimals);
			if (to > from + 1e-9) cells.push({ ...cell(at.rpm[k]!, at.ys[r]!, from, to), basis: 'measured' });
		})
	);
	if (cells.length === 0) return null;
	const from = Math.max(...cells.map((x) => x.from));
	const to = Math.max(...cells.map((x) => x.to));
	const reason = `The next rung of boost, one step at most at once`;
	return {
		rung: { kind: 'boost', from, to },
		changes: [{ item: 'boost.target', cells, reason, findings: [] }, ...beyondDriven(c, to)]
	};
}

/** So near a goal of pressure is there, kPa. Own choice. */
const REACHED_KPA = 5;
/** Over the pressure of the rung the foot comes off, kPa. Own choice. */
const ABORT_KPA = 10;

/**
 * The next rung of a charger that no set point holds back: engine speed and throttle are rolled into, and a pressure says when to lift. `null`
 * where there is a set point, no goal, or the goal was seen.
 */
export function blownStep(c: LadderCase): Step | null {
	const { goal, vehicle, calibration, logs } = c;
	if (vehicle.engine.aspiration !== 'supercharged' || !goal.boostKpa || findItem(calibration, 'boost.target'))
		return null;
	let top = Number.NaN;
	for (const { input } of logs) {
		const map = input.frame.get('map');
		if (!map) continue;
		for (const run of input.segments.loaded)
			for (let i = run.from; i <= run.to; i++) if (!(map[i]! <= top)) top = map[i]!;
	}
	const most = Math.max(...goal.boostKpa.map(([, kpa]) => kpa));
	if (!(top < most - REACHED_KPA)) return null;
	const to = Math.min(most, Math.round(top) + BOOST_STEP_KPA);
	return {
		rung: { kind: 'boost', from: Math.round(top), to },
		changes: beyondDriven(c, to),
		drive: `No set point holds this charger back: roll into it gradually, more engine speed and throttle from pull to pull, and lift at ${marked(to + ABORT_KPA, 'kPa abs')}. It has made ${marked(top, 'kPa abs')} so far.`
	};
}

/** Highest load of each column that was driven under load, in the table's own axis; NaN where none was. */
function drivenTo(table: MapItem, logs: readonly { input: Prepared }[]): Float64Array {
	const finder = new AxisFinder(table.x.points);
	const out = new Float64Array(table.x.points.length).fill(Number.NaN);
	for (const { input } of logs) {
		const rpm = input.frame.get('rpm');
		const map = input.frame.get('map');
		if (!rpm || !map) continue;
		for (let i = 0; i < rpm.length; i++) {
			if (!(input.segments.flags[i]! & FLAG.loaded) || rpm[i] !== rpm[i]) continue;
			const k = finder.nearest(rpm[i]!);
			if (!(out[k]! >= map[i]!)) out[k] = map[i]!;
		}
	}
	// A column that nobody drove under load is as far as the least of those that were.
	const least = Math.min(...out.filter((v) => v === v));
	return out.map((v) => (v === v ? v : least));
}

/** Timing and fuel for loads that the engine hasn't seen yet: on the safe side of what is proven below them. */
function beyondDriven(c: LadderCase, nextKpa: number): ItemProposal[] {
	const out: ItemProposal[] = [];
	const ethanol = Math.max(c.vehicle.fuel?.ethanolPct ?? 0, 0);
	const kpaPerDeg = ethanol >= ETHANOL_FROM_PCT ? ETHANOL_KPA_PER_DEG : PETROL_KPA_PER_DEG;
	const inKpa = (t: MapItem | null): t is MapItem =>
		t !== null && t.x.channel === 'rpm' && t.y.channel === 'map' && (!t.y.unit || t.y.unit === 'kPa');
	const spark = findMap(c.calibration, 'spark.table');
	if (inKpa(spark)) {
		const driven = drivenTo(spark, c.logs);
		const finder = new AxisFinder(spark.y.points);
		const cells: CellChange[] = [];
		spark.y.points.forEach((y, r) =>
			spark.x.points.forEach((x, k) => {
				const top = driven[k]!;
				if (!(y > top)) return;
				const { i, t } = finder.find(top);
				const proven =
					spark.values[i]![k]! * (1 - t) + spark.values[Math.min(i + 1, spark.values.length - 1)]![k]! * t;
				const from = spark.values[r]![k]!;
				const to = roundTo(
					Math.min(from, proven - (Math.min(y, nextKpa + BOOST_STEP_KPA) - top) / kpaPerDeg),
					decimalsOf(spark)
				);
				if (to < from) cells.push(cell(x, y, from, to));
			})
		);
		if (cells.length)
			out.push({
				item: 'spark.table',
				cells,
				reason: `Beyond the load that was driven the timing falls from what is proven, one degree for each step of load`,
				findings: []
			});
	}
	const fuel = findMap(c.calibration, 'fuel.table');
	if (inKpa(fuel)) {
		const driven = drivenTo(fuel, c.logs);
		const cells: CellChange[] = [];
		fuel.y.points.forEach((y, r) =>
			fuel.x.points.forEach((x, k) => {
				if (!(y > driven[k]!)) return;
				const from = fuel.values[r]![k]!;
				const to = roundTo(from * MORE_FUEL, decimalsOf(fuel));
				if (to > from) cells.push(cell(x, y, from, to));
			})
		);
		if (cells.length)
			out.push({
				item: 'fuel.table',
				cells,
				reason: 'Beyond the load that was driven 1 % more fuel goes in',
				findings: []
			});
	}
	return out;
}

/** What the cells of the timing table saw under load, over all logs of this revision. */
interface Seen {
	pulls: number;
	seconds: number;
	/** It pulled timing, or the monitor heard something: no degree goes in here. */
	spoiled: boolean;
	/** Sum and number of the mixture's distances from its target, as shares, of the bank that is farther off. */
	off: number;
	judged: number;
	/** It knocked: by what the controller did, or the monitor heard. */
	knocked: boolean;
}

function seenBy(table: MapItem, logs: readonly { input: Prepared }[]): Seen[] {
	const fx = new AxisFinder(table.x.points);
	const fy = new AxisFinder(table.y.points);
	const nx = table.x.points.length;
	const seen: Seen[] = table.values.flatMap((row) =>
		row.map(() => ({ pulls: 0, seconds: 0, spoiled: false, off: 0, judged: 0, knocked: false }))
	);
	for (const { input } of logs) {
		const { frame, segments, profile, believed, target } = input;
		const rpm = frame.get('rpm');
		const map = frame.get('map');
		if (!rpm || !map) continue;
		const retard = frame.get('knockRetard');
		const monitor = frame.get('knockMonitor');
		const lambdas = believed.banks.filter((b) => b !== null);
		const rises = new Set(
			(input.knock ?? []).filter((e) => e.shape !== 'blips').flatMap((e) => e.rises.map((r) => r.at))
		);
		for (const pull of segments.pulls) {
			const inPull = new Set<number>();
			for (let i = pull.from; i <= pull.to; i++) {
				if (!(segments.flags[i]! & FLAG.loaded) || rpm[i] !== rpm[i] || map[i] !== map[i]) continue;
				const heard = monitor ? monitor[i]! : 0;
				let off = Number.NaN;
				for (const l of lambdas) {
					const share = l[i]! / (target.values?.[i] ?? Number.NaN) - 1;
					if (share === share && !(Math.abs(share) <= Math.abs(off))) off = share;
				}
				const knocked = rises.has(i) || heard > profile.monitorLevel;
				const spoiled = (retard !== null && retard[i]! >= PULLED_DEG) || heard > profile.monitorLevel / 2;
				// What the engine got is mixed from the cells around: each that had a real part in it saw it.
				const { i: k, t: tx } = fx.find(rpm[i]!);
				const { i: r, t: ty } = fy.find(map[i]!);
				for (const [rr, kk, weight] of [
					[r, k, (1 - tx) * (1 - ty)],
					[r, k + 1, tx * (1 - ty)],
					[r + 1, k, (1 - tx) * ty],
					[r + 1, k + 1, tx * ty]
				] as const) {
					if (weight < PART || rr >= table.y.points.length || kk >= nx) continue;
					const at = rr * nx + kk;
					const s = seen[at]!;
					s.seconds += frame.dtS[i]!;
					if (!inPull.has(at)) {
						inPull.add(at);
						s.pulls++;
					}
					if (knocked) s.knocked = true;
					if (spoiled) s.spoiled = true;
					if (off === off) {
						s.off += off;
						s.judged++;
					}
				}
			}
		}
	}
	return seen;
}

/** Where it knocked, 2° come out: there, around it, and everywhere above it in load. */
export function retreat(c: LadderCase): Step | null {
	const table = findMap(c.calibration, 'spark.table');
	if (!table || table.y.channel !== 'map' || table.x.channel !== 'rpm') return null;
	const seen = seenBy(table, c.logs);
	const nx = table.x.points.length;
	const ny = table.y.points.length;
	const back = new Set<number>();
	seen.forEach((s, at) => {
		if (!s.knocked) return;
		const [r, k] = [Math.floor(at / nx), at % nx];
		for (let rr = Math.max(0, r - 1); rr < ny; rr++)
			for (let kk = Math.max(0, k - 1); kk <= Math.min(nx - 1, k + 1); kk++) back.add(rr * nx + kk);
	});
	if (back.size === 0) return null;
	return stepOf(
		table,
		[...back],
		-BACK_DEG,
		'It knocked there: 2° come out again, around it and above it in load, and nothing goes in without another fuel',
		'measured'
	);
}

/** The next degree, in blocks of at least two by two cells; `null` where nothing may have one. */
export function timingStep(c: LadderCase): Step | null {
	const table = findMap(c.calibration, 'spark.table');
	const ceiling = c.goal.timingCeilingDeg;
	if (!table || ceiling === undefined || table.y.channel !== 'map' || table.x.channel !== 'rpm') return null;
	const seen = seenBy(table, c.logs);
	const nx = table.x.points.length;
	const ny = table.y.points.length;
	const value = (at: number) => table.values[Math.floor(at / nx)]![at % nx]!;
	const may = seen.map(
		(s, at) =>
			s.pulls >= LEAST_PULLS &&
			s.seconds >= LEAST_S &&
			!s.spoiled &&
			s.judged > 0 &&
			Math.abs(s.off / s.judged) <= WITHIN &&
			value(at) + TIMING_STEP_DEG <= ceiling + 1e-9
	);
	const inBlock = new Set<number>();
	for (let r = 0; r + 1 < ny; r++)
		for (let k = 0; k + 1 < nx; k++) {
			const block = [r * nx + k, r * nx + k + 1, (r + 1) * nx + k, (r + 1) * nx + k + 1];
			if (block.every((at) => may[at])) for (const at of block) inBlock.add(at);
		}
	withoutCliffs(table, inBlock);
	if (inBlock.size === 0) return null;
	return stepOf(
		table,
		[...inBlock],
		TIMING_STEP_DEG,
		'The next rung: one degree where two pulls and a second say that nothing was pulled and the mixture is right',
		'measured'
	);
}

/** Takes cells out of a block that would stand too far over a neighbour, until none does. */
function withoutCliffs(table: MapItem, cells: Set<number>): void {
	const most = itemKind('spark.table')?.cliff?.by ?? Infinity;
	const nx = table.x.points.length;
	const ny = table.y.points.length;
	const value = (r: number, k: number, now: boolean) =>
		table.values[r]![k]! + (now && cells.has(r * nx + k) ? TIMING_STEP_DEG : 0);
	for (let changed = true; changed;) {
		changed = false;
		for (const at of cells) {
			const [r, k] = [Math.floor(at / nx), at % nx];
			for (const [rr, kk] of [
				[r - 1, k],
				[r + 1, k],
				[r, k - 1],
				[r, k + 1]
			] as const) {
				if (rr < 0 || kk < 0 || rr >= ny || kk >= nx) continue;
				const now = Math.abs(value(r, k, true) - value(rr, kk, true));
				const was = Math.abs(value(r, k, false) - value(rr, kk, false));
				if (now > most && now > was && cells.delete(at)) changed = true;
			}
		}
	}
}

function stepOf(
	table: MapItem,
	at: readonly number[],
	by: number,
	reason: string,
	basis: CellChange['basis']
): Step {
	const nx = table.x.points.length;
	const cells = [...at]
		.sort((a, b) => a - b)
		.map((i): CellChange => {
			const [r, k] = [Math.floor(i / nx), i % nx];
			const from = table.values[r]![k]!;
			return {
				...cell(table.x.points[k]!, table.y.points[r]!, from, roundTo(from + by, decimalsOf(table))),
				basis
			};
		});
	return {
		rung: {
			kind: 'timing',
			from: Math.max(...cells.map((x) => x.from)),
			to: Math.max(...cells.map((x) => x.to))
		},
		changes: [{ item: 'spark.table', cells, reason, findings: [] }]
	};
}
