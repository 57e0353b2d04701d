/**
 * Trims by cylinder (`fuel.cylTrim` in percent, `spark.cylTrim` in degrees): a curve over the cylinder, or a map of the cylinder and of engine
 * speed or load, whichever of the two axes the cylinder stands on.
 */
import { AxisFinder, interpolateCurve } from './grid.ts';
import { axisChannel, turner } from './axes.ts';
import type { Axis, Calibration, CurveItem, MapItem } from './document.ts';
import { findItem } from './lookup.ts';
import type { Columns } from '../logfile/frame.ts';

export type TrimId = 'fuel.cylTrim' | 'spark.cylTrim';

export interface CylinderTrims {
	item: CurveItem | MapItem;
	cylinders: readonly number[];
	/** What the trims go by beside the cylinder; `null` for one number a cylinder. */
	by: Axis | null;
	/** One row per cylinder, one value per point of `by` (one without it), in the unit of the item. */
	values: readonly (readonly number[])[];
}

const CYLINDER = 'cylinder';

/** @returns `null` where the calibration has none */
export function cylinderTrims(c: Calibration, id: TrimId): CylinderTrims | null {
	const item = findItem(c, id);
	if (item?.kind === 'curve')
		return { item, cylinders: item.x.points, by: null, values: item.values.map((v) => [v]) };
	if (item?.kind !== 'map') return null;
	// One row per y point: turned round where the cylinder stands across.
	if (item.y.channel === CYLINDER) return { item, cylinders: item.y.points, by: item.x, values: item.values };
	return {
		item,
		cylinders: item.x.points,
		by: item.y,
		values: item.x.points.map((_, k) => item.values.map((row) => row[k]!))
	};
}

/** Axis values of the cell of a cylinder at a point of `by`. */
export function trimCell(t: CylinderTrims, cylinder: number, at: number): { x: number; y: number } {
	const by = t.by?.points[at] ?? 0;
	return t.item.kind === 'map' && t.item.y.channel === CYLINDER
		? { x: by, y: cylinder }
		: { x: cylinder, y: by };
}

const mean = (list: readonly number[]) => list.reduce((s, v) => s + v, 0) / Math.max(1, list.length);

/** Mean of all cylinders per point of `by`. */
const meansOf = (t: CylinderTrims): number[] =>
	(t.by?.points ?? [0]).map((_, at) => mean(t.values.map((v) => v[at]!)));

/** Trim of one cylinder over all that it goes by, in the unit of the item; `null` for a cylinder that the item doesn't have. */
export function trimOf(t: CylinderTrims, cylinder: number): number | null {
	const values = t.values[t.cylinders.indexOf(cylinder)];
	return values ? mean(values) : null;
}

/**
 * Mean trim of all cylinders on the axes of a table: the engine as a whole.
 * @param like table whose channels x and y are given in; where neither is what the trims go by, their mean over it counts
 */
export function meanTrim(
	t: CylinderTrims,
	like: MapItem | null,
	baroKpa: number
): (x: number, y: number) => number {
	const means = meansOf(t);
	const all = mean(means);
	const by = t.by;
	if (!by) return () => means[0]!;
	const at = (v: number) => interpolateCurve(by.points, means, v);
	const [fromX, fromY] = [like?.x, like?.y].map((axis) => (axis ? turner(axis, by, baroKpa) : null));
	return fromX ? (x) => at(fromX(x)) : fromY ? (_, y) => at(fromY(y)) : () => all;
}

/** At every sample of a log: of one cylinder (0 for one that the item doesn't have), or the mean of all. What isn't logged counts by its mean. */
export function trimAlong(
	t: CylinderTrims,
	frame: Columns,
	baroKpa: number,
	cylinder?: number
): (sample: number) => number {
	const values =
		cylinder === undefined
			? meansOf(t)
			: (t.values[t.cylinders.indexOf(cylinder)] ?? (t.by ? t.by.points : [0]).map(() => 0));
	const channel = t.by && axisChannel(frame, t.by, baroKpa);
	const all = mean(values);
	if (!t.by || !channel) return () => all;
	const finder = new AxisFinder(t.by.points);
	return (sample) => {
		const v = channel[sample]!;
		if (v !== v) return all;
		const { i, t: share } = finder.find(v);
		return share > 0 ? values[i]! + (values[i + 1]! - values[i]!) * share : values[i]!;
	};
}
