/** Rungs of boost: the set point a step higher, or a charger without one rolled into, with timing and fuel on the safe side beyond what was driven. */
import type { CurveItem, MapItem } from '../calibration/document.ts';
import { decimalsOf, findItem, findMap, roundTo } from '../calibration/lookup.ts';
import { AxisFinder } from '../calibration/grid.ts';
import { marked } from '../format.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import { goalBoost } from '../fuelling/goal.ts';
import type { CellChange, ItemProposal } from '../revising/proposal.ts';
import type { LadderCase } from './case.ts';
import { carriedCell as cell, type Step } from './step.ts';

/** A step of boost, kPa. Own choice. */
const BOOST_STEP_KPA = 20;
/** Timing that goes in less for each kPa beyond what was driven: 1° per 7 kPa on petrol, 1° per 14 kPa from 60 % ethanol. Own choice. */
const PETROL_KPA_PER_DEG = 7;
const ETHANOL_KPA_PER_DEG = 14;
const ETHANOL_FROM_PCT = 60;
/** Fuel that goes in more beyond what was driven. Own choice. */
const MORE_FUEL = 1.01;
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
	const reason = `The next step of boost, one at a time`;
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
		t !== null && t.x.channel === 'rpm' && t.y.channel === 'map';
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
