/** The field of one log over any grid: what a cell map shows beside the plain means, and what two logs are held against each other by. */
import type { CellAxes } from '../calibration/grid.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { capped } from './cap.ts';
import { fitField } from './field.ts';
import { gridNodes } from './nodes.ts';
import { atLeast, samplesOf, type Reading } from './samples.ts';

export interface GridField {
	/** Percent off 1, row by row: one row per y point. */
	percent: number[][];
	/** Standard deviation of that, percent. */
	sd: number[][];
	/** Share of the doubt that the samples took away, 0–1. */
	trust: number[][];
}

const round = (v: number, by: number) => Math.round(v * by) / by;

/**
 * @param reading a ratio per sample, by default what the table should have been multiplied by
 * @param use 1 for samples that count; those that may judge a fuel table when missing
 * @returns `null` where the log lacks an axis, or says nothing
 */
export function gridField(
	input: Prepared,
	axes: CellAxes,
	reading: Reading = atLeast,
	use?: Uint8Array
): GridField | null {
	const nodes = gridNodes(axes);
	const samples = samplesOf([{ input, against: null }], nodes, reading, 'bilinear', use);
	if (!samples) return null;
	const field = capped(fitField(samples, nodes, 1, input.segments.baroKpa).field, samples);
	const rows = (of: (i: number) => number) =>
		axes.y.map((_, r) => axes.x.map((__, c) => of(r * axes.x.length + c)));
	return {
		percent: rows((i) => round(100 * field.d[i]!, 1000)),
		sd: rows((i) => round(100 * field.sd[i]!, 1000)),
		trust: rows((i) => round(field.trust[i]!, 1000))
	};
}

/** Fields of a log over the axes of its fuel table: both banks together, and each that was seen. */
export interface LogFields {
	axes: CellAxes;
	all: GridField | null;
	banks: (GridField | null)[];
}

export function logFields(input: Prepared): LogFields {
	const { axes, required, believed } = input;
	const all = gridField(input, axes);
	const several = required.banks.length > 1 && !believed.shared;
	return {
		axes,
		all,
		banks: required.banks.map((k, b) =>
			k === null || (believed.shared && b > 0) ? null : several ? gridField(input, axes, () => k) : all
		)
	};
}

export interface FieldDifference {
	/** Second less first, points of percent; null where either knows too little. */
	points: (number | null)[][];
	/** Standard deviation of that. */
	sd: number[][];
	/** The lesser trust of the two. */
	trust: number[][];
	/** Over the cells that both know: mean size of the error, how uneven it is (standard deviation over the cells), before and after, percent. */
	summary: { cells: number; size: [number, number]; uneven: [number, number] } | null;
}

/** Both have to know a cell this well to be compared there, percent: as well as a change may be carried. */
const COMPARED_SD = 3;

/**
 * Two logs, one question: how their errors differ, cell by cell.
 * @returns `null` where they stand on other axes
 */
export function fieldDifference(a: GridField, b: GridField): FieldDifference | null {
	if (a.percent.length !== b.percent.length || a.percent[0]?.length !== b.percent[0]?.length) return null;
	const each = <T>(of: (r: number, c: number) => T): T[][] =>
		a.percent.map((row, r) => row.map((_, c) => of(r, c)));
	const trust = each((r, c) => Math.min(a.trust[r]![c]!, b.trust[r]![c]!));
	const known = each((r, c) => Math.max(a.sd[r]![c]!, b.sd[r]![c]!) <= COMPARED_SD);
	const firsts: number[] = [];
	const seconds: number[] = [];
	known.forEach((row, r) =>
		row.forEach((yes, c) => {
			if (!yes) return;
			firsts.push(a.percent[r]![c]!);
			seconds.push(b.percent[r]![c]!);
		})
	);
	const mean = (v: number[]) => v.reduce((s, x) => s + x, 0) / v.length;
	const spread = (v: number[]) => Math.sqrt(mean(v.map((x) => (x - mean(v)) ** 2)));
	return {
		points: each((r, c) => (known[r]![c] ? round(b.percent[r]![c]! - a.percent[r]![c]!, 1000) : null)),
		sd: each((r, c) => Math.hypot(a.sd[r]![c]!, b.sd[r]![c]!)),
		trust,
		summary: firsts.length
			? {
					cells: firsts.length,
					size: [mean(firsts.map(Math.abs)), mean(seconds.map(Math.abs))],
					uneven: [spread(firsts), spread(seconds)]
				}
			: null
	};
}
