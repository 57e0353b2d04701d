/** A table as the tuner's own program wants it: its orientation, units, decimals, with its axes or without, ready to be pasted there. */
import { fixed } from '../../format.ts';
import type { Calibration, CurveItem, Item, MapItem } from '../document.ts';
import { decimalsOf, roundTo, findItem } from '../lookup.ts';
import { turner } from '../axes.ts';
import { InputError } from '../../input-error.ts';
import { STANDARD_KPA } from '../resample.ts';
import { itemTurner } from '../item-units.ts';
import type { ScalarLayout, TableLayout } from './layout.ts';

/** Decimals that a point of an axis is told apart by, whatever its unit. */
const AXIS_DECIMALS = 4;

const plain = (v: number, decimals: number) => String(Number(fixed(v, decimals)));

/** Values of an item in the unit of a layout. @throws InputError where the two measure different things */
export function inUnit(
	item: Exclude<Item, { kind: 'setting' }>,
	unit: string | undefined,
	baroKpa = STANDARD_KPA
): (v: number) => number {
	const turn = itemTurner(item, unit, baroKpa);
	if (!turn)
		throw new InputError(`"${item.id}" is in ${item.unit ?? 'no unit'}, which can't be turned into ${unit}`);
	return turn;
}

function axisPoints(axis: MapItem['x'], wanted: TableLayout['x'], baroKpa: number): string[] {
	const turn = turner(axis, { channel: wanted.channel, unit: wanted.unit }, baroKpa);
	if (!turn)
		throw new InputError(
			`the axis is read by ${axis.channel}, the layout says ${wanted.channel}: these are different things`
		);
	return axis.points.map((p) => plain(turn(p), AXIS_DECIMALS));
}

/**
 * Tab-separated text of a table. Cells are rounded to the decimals of the layout, and always have as many.
 * @throws InputError where the calibration has no such table, or the units can't be turned
 */
export function tableText(calibration: Calibration, layout: TableLayout, baroKpa = STANDARD_KPA): string {
	const item = findItem(calibration, layout.item);
	if (item?.kind !== 'map' && item?.kind !== 'curve')
		throw new InputError(`the calibration has no table "${layout.item}"`);
	const turn = inUnit(item, layout.unit, baroKpa);
	const decimals = layout.decimals ?? decimalsOf(item);
	const rows = (item.kind === 'map' ? item.values : [item.values]).map((row) =>
		row.map((v) => fixed(roundTo(turn(v), decimals), decimals))
	);
	const x = axisPoints(item.x, layout.x, baroKpa);
	const y = item.kind === 'map' ? axisPoints(item.y, layout.y ?? item.y, baroKpa) : null;
	return gridText(rows, x, y, layout);
}

function gridText(
	rows: readonly (readonly string[])[],
	x: readonly string[],
	y: readonly string[] | null,
	layout: Pick<TableLayout, 'rows' | 'transposed' | 'axes'>
): string {
	const up = layout.rows === 'y-up';
	let out: string[][];
	if (layout.transposed) {
		// x runs down; y runs across, in the direction that the rows would have had.
		const across = y ? (up ? y.toReversed() : y) : [''];
		const columns = up ? rows.toReversed() : rows;
		out = x.map((point, c) => [point, ...columns.map((row) => row[c]!)]);
		if (y) out = [['', ...across], ...out];
	} else {
		const body = rows.map((row, r) => (y ? [y[r]!, ...row] : [...row]));
		if (up) body.reverse();
		out = [y ? ['', ...x] : [...x], ...body];
	}
	if (layout.axes === 'without') {
		const skipTop = layout.transposed ? (y ? 1 : 0) : 1;
		const skipLeft = layout.transposed ? 1 : y ? 1 : 0;
		out = out.slice(skipTop).map((row) => row.slice(skipLeft));
	}
	return `${out.map((row) => row.join('\t')).join('\n')}\n`;
}

/** A scalar as a line to type: what it is called, its value in the program's unit and decimals, that unit. */
export function scalarLine(calibration: Calibration, layout: ScalarLayout, baroKpa = STANDARD_KPA): string {
	const item = findItem(calibration, layout.item);
	if (item?.kind !== 'scalar') throw new InputError(`the calibration has no value "${layout.item}"`);
	const decimals = layout.decimals ?? decimalsOf(item);
	const value = fixed(roundTo(inUnit(item, layout.unit, baroKpa)(item.value), decimals), decimals);
	return [layout.title ?? layout.item, value, layout.unit ?? item.unit ?? ''].join('\t').trimEnd();
}

/**
 * The calibration with every cell as the program can hold it: rounded to the decimals of the layout in the program's unit. Cells that are the
 * same at those decimals stay as they are.
 */
export function asHeld<T extends CurveItem | MapItem>(
	item: T,
	layout: TableLayout,
	baroKpa = STANDARD_KPA
): T {
	const to = inUnit(item, layout.unit, baroKpa);
	const back = itemTurner({ ...item, unit: layout.unit ?? item.unit }, item.unit, baroKpa)!;
	const decimals = layout.decimals ?? decimalsOf(item);
	const held = (v: number) => {
		const seen = to(v);
		const rounded = roundTo(seen, decimals);
		return Math.abs(rounded - seen) < 1e-9 ? v : Number(fixed(back(rounded), 8));
	};
	return item.kind === 'map'
		? { ...item, values: item.values.map((row) => row.map(held)) }
		: { ...item, values: item.values.map(held) };
}
