/** The nodes of what the fuel hangs on: a table, the members of a blend, or the curve of an air meter, in one list of unknowns. */
import { axisScale, axisSource, type AxisRef } from '../calibration/axes.ts';
import { blendOf } from '../calibration/along.ts';
import type { Calibration } from '../calibration/document.ts';
import { findCurve, findMap } from '../calibration/lookup.ts';
import type { CellAxes } from '../calibration/grid.ts';

/** A fuel item as rows and columns; the curve of an air meter is one row. */
export interface FuelTable {
	id: string;
	x: AxisRef & { points: readonly number[] };
	/** `null` for a curve. */
	y: (AxisRef & { points: readonly number[] }) | null;
	rows: readonly (readonly number[])[];
	/** Which member of the blend it is; 0 without one. */
	member: number;
	/** Index of its first node among all unknowns. */
	first: number;
	nx: number;
	ny: number;
}

export interface Nodes {
	tables: readonly FuelTable[];
	/** All nodes of all tables: table by table, row by row. */
	count: number;
	blend: ReturnType<typeof blendOf>;
}

/** The item that the fuel hangs on: the air meter's curve, else the fuel table. */
export const fuelItemOf = (c: Calibration): 'maf.curve' | 'fuel.table' =>
	c.fuelModel === 'maf' && findCurve(c, 'maf.curve') ? 'maf.curve' : 'fuel.table';

/** @returns no tables where the calibration has none */
export const nodesOf = (calibration: Calibration): Nodes => itemNodes(calibration, fuelItemOf(calibration));

/**
 * The nodes of an item: a curve, a map, or all maps that are blended under its name.
 * @returns no tables where the calibration hasn't got it
 */
export function itemNodes(calibration: Calibration, id: string): Nodes {
	const blend = blendOf(calibration, id);
	let count = 0;
	const tables = (blend ? blend.members : [id]).flatMap((member, m): FuelTable[] => {
		const item = findCurve(calibration, member) ?? findMap(calibration, member);
		if (!item) return [];
		const rows = item.kind === 'map' ? item.values : [item.values];
		const nx = item.x.points.length;
		const ny = rows.length;
		const first = count;
		count += nx * ny;
		return [
			{
				id: item.id,
				x: item.x,
				y: item.kind === 'map' ? item.y : null,
				rows,
				member: m,
				first,
				nx,
				ny
			}
		];
	});
	return { tables, count, blend };
}

/** Nodes of a grid that is no table: each stands for itself alone. */
export function gridNodes(axes: CellAxes): Nodes {
	const [nx, ny] = [axes.x.length, axes.y.length];
	const x = { channel: axes.xChannel, unit: axes.xUnit, points: axes.x };
	const y = { channel: axes.yChannel, unit: axes.yUnit, points: axes.y };
	const rows = axes.y.map(() => axes.x.map(() => 1));
	return { tables: [{ id: '', x, y, rows, member: 0, first: 0, nx, ny }], count: nx * ny, blend: null };
}

/** One step of physical distance by what an axis reads; a tenth of the axis for anything else. */
const STEP: Readonly<Record<string, number>> = { rpm: 500, map: 20 };

/** Points of an axis in steps of physical distance (500 rpm, 20 kPa, else a tenth of the axis), from its first point. */
export function steps(axis: AxisRef & { points: readonly number[] }, baroKpa: number): Float64Array {
	const { points } = axis;
	const span = points[points.length - 1]! - points[0]!;
	const known = STEP[axisSource(axis)];
	const unit = known === undefined ? span / 10 || 1 : known / axisScale(axis, baroKpa);
	return Float64Array.from(points, (p) => (p - points[0]!) / unit);
}
