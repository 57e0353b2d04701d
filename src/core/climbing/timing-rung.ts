/** Rungs of timing: a degree more where the logs prove it, two back where it knocked. */
import { decimalsOf, findMap, roundTo, type MapItem } from '../calibration/document.ts';
import { AxisFinder } from '../calibration/grid.ts';
import { itemKind } from '../calibration/items.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { FLAG } from '../evidence/segments/kinds.ts';
import type { CellChange } from '../revising/proposal.ts';
import type { LadderCase } from './case.ts';
import { carriedCell as cell, type Step } from './step.ts';

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
