/** Did the change do what it was meant to? Error before and after in the changed cells, from the maps of two logs. */
import type { CellMap, CorrectionCells } from '../cells/correction-map.ts';
import type { DraftChange } from './revise.ts';

export interface CellOutcome {
	x: number;
	y: number;
	/** Mean error of the banks in percent before the change and after it. */
	beforePct: number;
	afterPct: number;
	/** Effective samples of the later log. */
	samples: number;
}

export interface Outcome {
	item: string;
	cells: CellOutcome[];
	/** Mean absolute error over the cells that both logs visited. */
	beforePct: number;
	afterPct: number;
	verdict: 'worked' | 'partly' | 'nothing' | 'worse' | 'not-visited';
}

/** Cells with fewer effective samples than this in either log say nothing. */
const MIN_SAMPLES = 5;
/** An error this small is as good as it gets: sensors are no better. */
const GOOD_PCT = 2;

function meanError(
	cells: CorrectionCells,
	r: number,
	c: number
): { percent: number; samples: number } | null {
	const maps = cells.banks.filter((b): b is CellMap => b !== null);
	let sum = 0;
	let samples = Infinity;
	for (const m of maps) {
		const p = m.percent[r]?.[c];
		const n = m.samples[r]?.[c] ?? 0;
		if (p === null || p === undefined || n < MIN_SAMPLES) return null;
		sum += p;
		samples = Math.min(samples, n);
	}
	return maps.length ? { percent: sum / maps.length, samples } : null;
}

/**
 * Outcome of the fuel changes of a revision.
 * @param before map of the log that the change was made from
 * @param after map of a log made with the revision
 */
export function fuelOutcome(
	changes: readonly DraftChange[],
	before: CorrectionCells,
	after: CorrectionCells
): Outcome | null {
	const mine = changes.filter((c) => c.item === 'fuel.table');
	if (mine.length === 0) return null;
	const cells: CellOutcome[] = [];
	for (const change of mine) {
		const a = meanError(before, before.y.indexOf(change.y), before.x.indexOf(change.x));
		const b = meanError(after, after.y.indexOf(change.y), after.x.indexOf(change.x));
		if (!a || !b) continue;
		cells.push({ x: change.x, y: change.y, beforePct: a.percent, afterPct: b.percent, samples: b.samples });
	}
	const mean = (of: (c: CellOutcome) => number) =>
		cells.reduce((s, c) => s + Math.abs(of(c)), 0) / Math.max(1, cells.length);
	const beforePct = mean((c) => c.beforePct);
	const afterPct = mean((c) => c.afterPct);
	return {
		item: 'fuel.table',
		cells,
		beforePct,
		afterPct,
		verdict: verdictOf(cells.length, beforePct, afterPct)
	};
}

function verdictOf(cells: number, before: number, after: number): Outcome['verdict'] {
	if (cells === 0) return 'not-visited';
	if (after > before + 0.5 && after > GOOD_PCT) return 'worse';
	if (after <= Math.max(GOOD_PCT, before * 0.35)) return 'worked';
	return after <= before * 0.75 ? 'partly' : 'nothing';
}
