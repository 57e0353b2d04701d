/**
 * How much two gas paths differ in one log, cell by cell, and what several cells that were visited in two logs say together: pooled by
 * inverse variance with the spread between the cells in it (DerSimonian and Laird, Controlled Clinical Trials 7, 1986).
 */
import { maskOf } from '../logfile/columns.ts';
import { defaultAxes, type CellAxes } from '../calibration/grid.ts';
import type { Frame } from '../logfile/frame.ts';
import { BANDS, type Band } from '../evidence/cells/banks.ts';
import { loadBands } from '../evidence/cells/load-bands.ts';
import { nearestCells } from '../evidence/cells/stats.ts';
import type { Prepared } from '../evidence/prepared.ts';

/** Mean of one quantity in a cell of a band of load, and the variance of that mean. */
export interface CellMean {
	mean: number;
	variance: number;
}

/** Of one log over cells that all logs share: by place, which is `band × (cells + 1) + cell`; the last cell of a band is the band as a whole. */
export interface Cells {
	count: number;
	means: ReadonlyMap<number, CellMean>;
}

/** Samples closer to each other than this tell the same: a lambda sensor is no faster. */
const APART_S = 0.25;

/** Cells that don't depend on a revision: 500 rpm by 20 kPa, so that two logs with other tables meet in them. */
export function commonAxes(...frames: readonly Frame[]): CellAxes {
	const most = (id: string, least: number) => Math.max(least, ...frames.map((f) => f.bounds(id)?.max || 0));
	return defaultAxes(most('rpm', 1000), most('map', 100));
}

/**
 * Means of `value` (NaN where it says nothing) in the cells of each band of load.
 * @param leastSamples cells with fewer are left out; a band that swept through its cells too fast for any of them is one cell
 */
export function cellMeans(input: Prepared, axes: CellAxes, value: Float32Array, leastSamples: number): Cells {
	const { frame } = input;
	const count = axes.x.length * axes.y.length;
	const means = new Map<number, CellMean>();
	const x = frame.get('rpm');
	const y = frame.first('map', 'airmass', 'maf', 'tps');
	if (!x || !y) return { count, means };
	const band = loadBands(input);
	const use = maskOf(band.length, (i) => band[i] !== 255);
	const cells = nearestCells({ axes, x, y, value, use });
	const places = BANDS.length * (count + 1);
	const n = new Float64Array(places);
	const sum = new Float64Array(places);
	const squares = new Float64Array(places);
	const seconds = new Float64Array(places);
	for (let i = 0; i < cells.length; i++) {
		if (cells[i]! < 0) continue;
		const whole = band[i]! * (count + 1) + count;
		for (const place of [whole - count + cells[i]!, whole]) {
			n[place]!++;
			sum[place]! += value[i]!;
			squares[place]! += value[i]! * value[i]!;
			seconds[place]! += frame.dtS[i]!;
		}
	}
	for (let place = 0; place < places; place++) {
		if (n[place]! < leastSamples) continue;
		const mean = sum[place]! / n[place]!;
		const spread = Math.max(0, squares[place]! / n[place]! - mean * mean);
		const apart = Math.max(1, Math.min(n[place]!, seconds[place]! / APART_S));
		means.set(place, { mean, variance: spread / apart });
	}
	return { count, means };
}

/** A mean over cells and its standard error, both in natural logarithms of a ratio. */
export interface Pooled {
	mean: number;
	se: number;
}

/** Places of a band that all of `logs` have: its cells, else the band as a whole. */
export function commonPlaces(band: Band, ...logs: readonly Cells[]): number[] {
	const [first, ...others] = logs;
	const from = BANDS.indexOf(band) * (first!.count + 1);
	const whole = from + first!.count;
	const there = (place: number) => logs.every((l) => l.means.has(place));
	const cells = [...first!.means.keys()].filter(
		(p) => p >= from && p < whole && others.every((o) => o.means.has(p))
	);
	return cells.length ? cells : there(whole) ? [whole] : [];
}

/**
 * Cells together.
 * @param list one or more
 */
export function pooled(list: readonly CellMean[]): Pooled {
	const weights = list.map((c) => 1 / Math.max(c.variance, VARIANCE_FLOOR));
	const total = weights.reduce((s, w) => s + w, 0);
	const fixed = list.reduce((s, c, i) => s + weights[i]! * c.mean, 0) / total;
	const q = list.reduce((s, c, i) => s + weights[i]! * (c.mean - fixed) ** 2, 0);
	const scale = total - weights.reduce((s, w) => s + w * w, 0) / total;
	const between = scale > 0 ? Math.max(0, (q - (list.length - 1)) / scale) : 0;
	const random = list.map((c) => 1 / (Math.max(c.variance, VARIANCE_FLOOR) + between));
	const sum = random.reduce((s, w) => s + w, 0);
	return { mean: list.reduce((s, c, i) => s + random[i]! * c.mean, 0) / sum, se: Math.sqrt(1 / sum) };
}
/** A quantised channel may show no scatter at all: no cell is known better than to 0.1 %. */
const VARIANCE_FLOOR = 0.001 ** 2;
