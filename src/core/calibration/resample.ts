/** A table on other axes: points added, removed, moved, or read by pressure ratio instead of pressure; the surface stays as it was. */
import { sameReading, turner } from './axes.ts';
import { Surface } from './grid.ts';
import { InputError } from '../input-error.ts';
import type { Axis, CurveItem, MapItem } from './document.ts';
import { decimalsOf, roundTo } from './lookup.ts';

export type TableItem = MapItem | CurveItem;

export interface NewAxis {
	channel: string;
	unit?: string | undefined;
	/** Rising. */
	points: readonly number[];
	/** What a new point is multiplied by to stand on the old axis: the barometer in kPa where pressure becomes a ratio; else 1. */
	scale: number;
}

export const sameAxis = (axis: Axis): NewAxis => ({
	channel: axis.channel,
	unit: axis.unit,
	points: axis.points,
	scale: 1
});

/** A curve is a table of one row, at y = 0. */
export const rowsOf = (t: TableItem): number[][] => (t.kind === 'map' ? t.values : [t.values]);
export const yOf = (t: TableItem): readonly number[] => (t.kind === 'map' ? t.y.points : [0]);

function checked(axis: NewAxis, name: string, item: string): void {
	if (axis.points.length < 2) throw new InputError(`${item}: the ${name} axis needs at least two points`);
	axis.points.forEach((p, i) => {
		if (!Number.isFinite(p)) throw new InputError(`${item}: a point of the ${name} axis is no number`);
		if (i > 0 && p <= axis.points[i - 1]!)
			throw new InputError(
				`${item}: points of the ${name} axis have to rise, ${p} comes after ${axis.points[i - 1]}`
			);
	});
	if (!(axis.scale > 0)) throw new InputError(`${item}: the ${name} axis is scaled by ${axis.scale}`);
}

/** What an axis becomes; unknown keys of the axis are kept. */
function renewed(old: Axis, now: NewAxis): Axis {
	const out: Axis = { ...old, channel: now.channel, points: [...now.points] };
	if (now.unit === undefined) delete out.unit;
	else out.unit = now.unit;
	return out;
}

/**
 * The table on new axes: bilinear between its old points, held at its old edges, rounded to its decimals.
 * @throws InputError for an axis that doesn't rise or has less than two points
 */
export function resampled<T extends TableItem>(table: T, x: NewAxis, y: NewAxis | null): T {
	checked(x, 'x', table.id);
	if (y) checked(y, 'y', table.id);
	const surface = new Surface(table.x.points, yOf(table), rowsOf(table));
	const decimals = decimalsOf(table);
	const row = (at: number) => x.points.map((p) => roundTo(surface.at(p * x.scale, at), decimals));
	if (table.kind === 'curve') return { ...table, x: renewed(table.x, x), values: row(0) };
	const up = y ?? sameAxis(table.y);
	return {
		...table,
		x: renewed(table.x, x),
		y: renewed(table.y, up),
		values: up.points.map((p) => row(p * up.scale))
	};
}

export interface SurfaceChange {
	/** Largest difference anywhere on the old surface, in the unit of the table, and in percent of the old value there. */
	most: number;
	mostPct: number | null;
	/** Where, on the old axes. */
	x: number;
	y: number;
	/** New points beyond the old ends, which hold the value of the edge. */
	beyond: number;
	/** Share of the old range, per axis, that the new axes no longer reach, 0–1: there the new edge is held. */
	lost: number;
}

/**
 * How far new axes change the surface. Both are linear between their points, so the largest difference stands on a point of one or the
 * other: looking at all of them misses nothing.
 */
export function surfaceChange(
	before: TableItem,
	after: TableItem,
	x: NewAxis,
	y: NewAxis | null
): SurfaceChange {
	const up = y ?? (before.kind === 'map' ? sameAxis(before.y) : { channel: '', points: [0], scale: 1 });
	const a = new Surface(before.x.points, yOf(before), rowsOf(before));
	const b = new Surface(after.x.points, yOf(after), rowsOf(after));
	const oldX = before.x.points;
	const oldY = yOf(before);
	const both = (old: readonly number[], now: NewAxis) => {
		const [low, high] = [old[0]!, old.at(-1)!];
		const there = now.points.map((p) => p * now.scale);
		return {
			points: [...new Set([...old, ...there.filter((p) => p >= low && p <= high)])],
			beyond: there.filter((p) => p < low || p > high).length,
			lost: high > low ? (Math.max(0, there[0]! - low) + Math.max(0, high - there.at(-1)!)) / (high - low) : 0
		};
	};
	const xs = both(oldX, x);
	const ys = both(oldY, up);
	const out: SurfaceChange = {
		most: 0,
		mostPct: null,
		x: oldX[0]!,
		y: oldY[0]!,
		beyond: xs.beyond + ys.beyond,
		lost: Math.min(1, Math.max(xs.lost, ys.lost))
	};
	for (const py of ys.points)
		for (const px of xs.points) {
			const was = a.at(px, py);
			const d = b.at(px / x.scale, py / up.scale) - was;
			if (Math.abs(d) <= Math.abs(out.most)) continue;
			out.most = d;
			out.mostPct = was === 0 ? null : (100 * d) / Math.abs(was);
			out.x = px;
			out.y = py;
		}
	return out;
}

/** Pressure in kPa read as a ratio to the barometer, or back: the only two channels of an axis that measure the same thing. */
export function rescaledChannel(axis: Axis, baroKpa: number): NewAxis | null {
	const round = (v: number, d: number) => roundTo(v, d);
	if (axis.channel === 'map')
		return {
			channel: 'pressureRatio',
			points: axis.points.map((p) => round(p / baroKpa, 4)),
			scale: baroKpa
		};
	if (axis.channel === 'pressureRatio')
		return {
			channel: 'map',
			unit: 'kPa',
			points: axis.points.map((p) => round(p * baroKpa, 2)),
			scale: 1 / baroKpa
		};
	return null;
}

/** Where two calibrations read one table by pressure and by pressure ratio: at the standard atmosphere. */
export const STANDARD_KPA = 101.325;

/**
 * `table` with its points expressed in the channels that `like` reads, so that both can be looked up at one place.
 * @param baroKpa by which a pressure ratio is set against a pressure
 */
export function inChannelsOf<T extends TableItem>(table: T, like: TableItem, baroKpa = STANDARD_KPA): T {
	const turned = (axis: Axis, wanted: Axis): Axis => {
		if (sameReading(axis, wanted)) return axis;
		const turn = turner(axis, wanted, baroKpa);
		return turn ? { ...wanted, points: axis.points.map(turn) } : axis;
	};
	const x = turned(table.x, like.x);
	if (table.kind === 'curve' || like.kind === 'curve') return x === table.x ? table : { ...table, x };
	const y = turned(table.y, like.y);
	return x === table.x && y === table.y ? table : { ...table, x, y };
}
