/** The progress of a job: mixture error and knock of each log, revision by revision; a curve towards done. */
import type { CellMap, CorrectionCells } from '../evidence/cells/correction-map.ts';
import type { PullCurves } from '../evidence/segments/pull-curves.ts';

export interface ProgressStep {
	/** Mean absolute error of the visited cells, percent; null where nothing was measured. */
	errorPct: number | null;
	/** Share of the visited cells within 2 %, 0–100. */
	withinPct: number | null;
	/** Leanest of a pull against its target, percent. */
	leanestPct: number | null;
	/** Highest knock retard in a pull, degrees. */
	knockDeg: number | null;
	dutyPct: number | null;
}

const MIN_SAMPLES = 10;
const WITHIN_PCT = 2;

export function progressStep(cells: CorrectionCells | null, pulls: readonly PullCurves[]): ProgressStep {
	const errors = (cells?.banks ?? [])
		.filter((b): b is CellMap => b !== null)
		.flatMap((b) =>
			b.percent.flatMap((row, r) =>
				row.flatMap((p, c) => (p !== null && b.samples[r]![c]! >= MIN_SAMPLES ? [Math.abs(p)] : []))
			)
		);
	const most = (of: (p: PullCurves['summary']) => number | null) => {
		const list = pulls.map((p) => of(p.summary)).filter((v): v is number => v !== null);
		return list.length ? Math.max(...list) : null;
	};
	return {
		errorPct: errors.length ? errors.reduce((s, e) => s + e, 0) / errors.length : null,
		withinPct: errors.length ? (100 * errors.filter((e) => e <= WITHIN_PCT).length) / errors.length : null,
		leanestPct: most((s) => s.leanestPct),
		knockDeg: most((s) => s.knockDeg),
		dutyPct: most((s) => s.dutyPct)
	};
}
