/** Rungs of timing: a degree more where the logs prove it, two back where it knocked. */
import type { Calibration, MapItem } from '../calibration/document.ts';
import { decimalsOf, roundTo } from '../calibration/lookup.ts';
import { list, plural } from '../format.ts';
import { itemKind } from '../calibration/items.ts';
import type { CellChange } from '../revising/proposal.ts';
import type { LadderCase } from './case.ts';
import { aroundAndAbove, heardBefore, hotProven, sameAxes, timingTable } from './past.ts';
import { seenBy, type Seen } from './seen.ts';
import { carriedCell as cell, type Step } from './step.ts';

/** Timing of a rung, and what comes out again where it knocked. Common practice. */
const TIMING_STEP_DEG = 1;
const BACK_DEG = 2;
/** What a cell has to have seen before a degree goes in. Own choice. */
const LEAST_PULLS = 2;
const LEAST_S = 1;
const WITHIN = 0.03;
/** Timing over what is proven that a row of less load may have, kPa for a degree. Own choice: the flatter of the slopes upwards. */
const CARRIED_KPA_PER_DEG = 14;

/** Why a cell that was driven under load gets no degree. */
type Why = 'ceiling' | 'pulled' | 'before' | 'seldom' | 'mixture';
const WHY: Record<Why, string> = {
	ceiling: 'at the ceiling',
	pulled: 'where it began to be pulled',
	before: 'within 2° of where it was pulled before on this fuel',
	seldom: `driven in fewer than ${LEAST_PULLS} pulls, or for less than ${LEAST_S} s`,
	mixture: 'with the mixture away from its target, or not judged'
};

/** A timing table over pressure and speed, with what its cells saw; `null` where the calibration has none. */
function driven(c: LadderCase): { table: MapItem; seen: Seen[] } | null {
	const table = timingTable(c.calibration);
	return table && { table, seen: seenBy(table, c.logs) };
}

/** Where it knocked, 2° come out: there, around it, and everywhere above it in load. */
export function retreat(c: LadderCase): Step | null {
	const d = driven(c);
	if (!d) return null;
	return backed(
		d.table,
		d.seen.map((s) => s.knocked),
		'It knocked there: 2° come out again, around it and above it in load, and nothing goes in without another fuel'
	);
}

/**
 * What a final timing keeps in hand: where it began to knock, 2° come out, as after knock; a day as hot as the season has proves
 * the cell as it is (common practice). What the controller pulled while a monitor beside it stayed still is no beginning.
 * `null` where there is none, or the day was that hot.
 */
export function finalTiming(c: LadderCase): Step | null {
	const d = driven(c);
	if (!d || hotProven(c.logs)) return null;
	return backed(
		d.table,
		d.seen.map((s) => s.near),
		'Here it began to knock: a final timing keeps 2° in hand, for the hottest day is yet to come'
	);
}

/** Back to the timing of a rung that gave as much, where the table stands above it; `null` where it doesn't. */
export function backTo(c: LadderCase, lowest: Calibration): Step | null {
	const table = timingTable(c.calibration);
	const then = timingTable(lowest);
	if (!table || !then || !sameAxes(table, then)) return null;
	const nx = table.x.points.length;
	const lower = (at: number) => then.values[Math.floor(at / nx)]![at % nx]!;
	const over = table.values.flatMap((row, r) =>
		row.flatMap((v, k) => (v > then.values[r]![k]! ? [r * nx + k] : []))
	);
	return over.length
		? stepOf(
				table,
				over,
				(at) => lower(at),
				'The engine takes it, but gives nothing for it: back to the lower',
				'measured'
			)
		: null;
}

/** The next degree, in blocks of at least two by two cells; `null` where nothing may have one. */
export function timingStep(c: LadderCase): Step | null {
	const d = driven(c);
	const ceiling = c.goal.timingCeilingDeg;
	if (!d || ceiling === undefined) return null;
	const { table } = d;
	const nx = table.x.points.length;
	const ny = table.y.points.length;
	const why = reasonsOf(c, table, d.seen, ceiling);
	const may = why.map((w) => w === null);
	const inBlock = new Set<number>();
	for (let r = 0; r + 1 < ny; r++)
		for (let k = 0; k + 1 < nx; k++) {
			const block = [r * nx + k, r * nx + k + 1, (r + 1) * nx + k, (r + 1) * nx + k + 1];
			if (block.every((at) => may[at])) for (const at of block) inBlock.add(at);
		}
	const carried = besideARow(table, why, d.seen, inBlock);
	withoutCliffs(table, inBlock);
	return inBlock.size
		? stepOf(
				table,
				[...inBlock],
				TIMING_STEP_DEG,
				'The next step: one degree where two pulls and a second say that nothing was pulled and the mixture is right',
				(at) => (carried.has(at) ? 'carried' : 'measured')
			)
		: null;
}

/**
 * Boost that holds its set point runs along one row of the table, and no block of two by two is driven. Two neighbours of a row go up together
 * where none of them comes to stand over the row of less load: that row goes along, as far as it stands no higher than the timing that is
 * proven over it and a degree per 14 kPa, or stands over them as it is. Never a row of more load.
 * @param into gets the cells of the pairs, and what goes along
 * @returns what goes along without having been driven
 */
function besideARow(
	table: MapItem,
	why: readonly (Why | null)[],
	seen: readonly Seen[],
	into: Set<number>
): Set<number> {
	const nx = table.x.points.length;
	const value = (at: number) => table.values[Math.floor(at / nx)]![at % nx]!;
	const carried = new Set<number>();
	const blocks = new Set(into);
	/** What the cell of less load does: goes along, stays, or stands in the way. */
	const beneath = (at: number): 'goes' | 'stays' | 'bars' => {
		const low = at - nx;
		if (why[low] === null) return 'goes';
		const r = Math.floor(at / nx);
		const room = (table.y.points[r]! - table.y.points[r - 1]!) / CARRIED_KPA_PER_DEG;
		const undriven = why[low] === 'seldom' || (why[low] === 'mixture' && seen[low]!.judged === 0);
		if (undriven && value(low) <= value(at) + room) return 'goes';
		return value(low) >= value(at) + TIMING_STEP_DEG ? 'stays' : 'bars';
	};
	for (let at = nx; at + 1 < why.length; at++) {
		if (at % nx === nx - 1 || why[at] !== null || why[at + 1] !== null) continue;
		const pair = [at, at + 1];
		if (pair.every((p) => blocks.has(p))) continue;
		const under = pair.map(beneath);
		if (under.includes('bars')) continue;
		pair.forEach((p, n) => {
			into.add(p);
			if (under[n] !== 'goes') return;
			into.add(p - nx);
			if (why[p - nx] !== null) carried.add(p - nx);
		});
	}
	return carried;
}

/** Per cell why it gets no degree; `null` where it may have one. */
function reasonsOf(c: LadderCase, table: MapItem, seen: readonly Seen[], ceiling: number): (Why | null)[] {
	const nx = table.x.points.length;
	const caps = heardBefore(c, table);
	return seen.map((s, at): Why | null => {
		const next = table.values[Math.floor(at / nx)]![at % nx]! + TIMING_STEP_DEG - 1e-9;
		if (s.spoiled) return 'pulled';
		if (next > ceiling) return 'ceiling';
		if (next > caps[at]!) return 'before';
		if (s.pulls < LEAST_PULLS || s.seconds < LEAST_S) return 'seldom';
		return s.judged > 0 && Math.abs(s.off / s.judged) <= WITHIN ? null : 'mixture';
	});
}

/** What ended the climb of timing, by the cells that were driven under load, in words. */
export function timingEnd(c: LadderCase): string {
	const d = driven(c);
	const ceiling = c.goal.timingCeilingDeg;
	if (!d || ceiling === undefined) return 'No timing is added without a ceiling.';
	const why = reasonsOf(c, d.table, d.seen, ceiling).filter((_, at) => d.seen[at]!.pulls > 0);
	const parts = (Object.keys(WHY) as Why[]).flatMap((w) => {
		const n = why.filter((x) => x === w).length;
		return n ? [`${plural(n, 'cell')} ${WHY[w]}`] : [];
	});
	const alone = why.filter((w) => w === null).length;
	if (alone)
		parts.push(
			`${plural(alone, 'cell')} that would stand alone over ${alone === 1 ? 'its' : 'their'} neighbours`
		);
	return parts.length
		? `No degree more: ${list(parts)}.`
		: 'No cell of the timing table was driven under load.';
}

/** 2° out of the cells of `which`, around them and above them in load; `null` where there are none. */
function backed(table: MapItem, which: readonly boolean[], reason: string): Step | null {
	const back = aroundAndAbove(table, which);
	return back.size ? stepOf(table, [...back], -BACK_DEG, reason, 'measured') : null;
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
	/** Degrees that go in, or the value of a cell after it. */
	by: number | ((at: number) => number),
	reason: string,
	basis: CellChange['basis'] | ((at: number) => CellChange['basis'])
): Step {
	const nx = table.x.points.length;
	const cells = [...at]
		.sort((a, b) => a - b)
		.map((i): CellChange => {
			const [r, k] = [Math.floor(i / nx), i % nx];
			const from = table.values[r]![k]!;
			return {
				...cell(
					table.x.points[k]!,
					table.y.points[r]!,
					from,
					roundTo(typeof by === 'number' ? from + by : by(i), decimalsOf(table))
				),
				basis: typeof basis === 'string' ? basis : basis(i)
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
