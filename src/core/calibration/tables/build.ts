/** A calibration from pasted texts and a layout that says what each is. */
import { InputError } from '../../input-error.ts';
import {
	parseCalibration,
	type Calibration,
	type CurveItem,
	type Item,
	type MapItem,
	type ScalarItem
} from '../document.ts';
import { itemKind, titleOf } from '../items.ts';
import { readPasted, turned, type PastedScalar, type PastedTable } from './block.ts';
import type { Layout, ScalarLayout, TableLayout } from './layout.ts';

export interface TextsOfTable {
	body: string;
	x?: string | undefined;
	y?: string | undefined;
}

type Axes = { x: MapItem['x']; y: MapItem['y'] | null };

/**
 * A pasted table as an item of a calibration.
 * @param axes of the table that it replaces, for a body that has none
 * @throws InputError naming what doesn't fit
 */
export function itemFrom(
	pasted: PastedTable,
	layout: TableLayout,
	axes: Axes | null = null
): MapItem | CurveItem {
	const t = laid(pasted, layout);
	const isCurve = !layout.y;
	const title = layout.title ?? itemKind(layout.item)?.title;
	const common = {
		id: layout.item,
		...(title ? { title } : {}),
		...(layout.unit ? { unit: layout.unit } : {}),
		decimals: layout.decimals ?? t.decimals.values
	};
	const x = axisOf(t.x, layout.x, axes?.x ?? null, t.values[0]!.length, 'x', layout);
	if (isCurve) {
		if (t.values.length !== 1)
			throw new InputError(
				`${titleOf({ id: layout.item, title })} is a curve, one row of values; ${t.values.length} rows were pasted`
			);
		return { ...common, kind: 'curve', x, values: t.values[0]! };
	}
	const y = axisOf(t.y, layout.y!, axes?.y ?? null, t.values.length, 'y', layout);
	return { ...common, kind: 'map', x, y, values: t.values };
}

/** A text in the order of the document: x across and rising, y down and rising. */
function laid(t: PastedTable, layout: TableLayout): PastedTable {
	const bare = t.x === null && t.y === null;
	// A curve is one row, whichever way it was written.
	if (!layout.y) return t.values.length > 1 && t.values[0]!.length === 1 ? turned(t) : t;
	const out = layout.transposed && !t.orientation.transposed ? turned(t) : t;
	const direction = layout.rows === 'y-up' && out.y === null && (bare || out.x !== null);
	return direction ? { ...out, values: out.values.toReversed() } : out;
}

function axisOf(
	points: readonly number[] | null,
	ref: { channel: string; unit?: string | undefined },
	replaces: MapItem['x'] | null,
	length: number,
	name: 'x' | 'y',
	layout: TableLayout
): MapItem['x'] {
	const known = points ?? replaces?.points ?? null;
	if (!known)
		throw new InputError(
			`${layout.title ?? layout.item} has no points of ${name}: paste them as well, or copy the table with its axes`
		);
	if (known.length !== length)
		throw new InputError(
			`${layout.title ?? layout.item} has ${length} ${name === 'x' ? 'columns' : 'rows'}, its ${name} axis ${known.length} points`
		);
	return { channel: ref.channel, ...(ref.unit ? { unit: ref.unit } : {}), points: [...known] };
}

const plainName = (s: string) => s.trim().toLowerCase();

/** Pasted values under the items that a layout knows by title or id; others are kept under their own name. */
export function scalarsFrom(pasted: readonly PastedScalar[], layouts: readonly ScalarLayout[]): ScalarItem[] {
	return pasted.map(({ name, value, unit }): ScalarItem => {
		const known = layouts.find((l) => [l.item, l.title ?? ''].some((n) => plainName(n) === plainName(name)));
		const id = known?.item ?? name;
		const kept = unit || known?.unit;
		return {
			id,
			kind: 'scalar',
			title: known?.title ?? titleOf({ id }),
			...(kept ? { unit: kept } : {}),
			value,
			...(known?.decimals === undefined ? {} : { decimals: known.decimals })
		};
	});
}

/**
 * @param tables texts by item; items of the layout without one are left out
 * @param scalars lines of name, value, unit
 * @throws InputError naming the item, and row and column of its text
 */
export function buildCalibration(
	layout: Layout,
	tables: ReadonlyMap<string, TextsOfTable>,
	scalars: string | null,
	name = layout.name
): Calibration {
	const items: Item[] = layout.tables.flatMap((l): Item[] => {
		const texts = tables.get(l.item);
		if (!texts) return [];
		return [named(l.item, () => itemFrom(tableIn(texts, l.axes === 'without'), l))];
	});
	if (scalars !== null)
		items.push(
			...named('scalars', () => {
				const pasted = readPasted(scalars);
				if (!('scalars' in pasted))
					throw new InputError('lines of name, value and unit are expected, a table was found');
				return scalarsFrom(pasted.scalars, layout.scalars);
			})
		);
	if (items.length === 0) throw new InputError('none of the tables of the layout is there');
	const blends = (layout as { blends?: unknown }).blends;
	return parseCalibration({
		schema: 'tanto.calibration/1',
		name,
		fuelModel: layout.fuelModel,
		items,
		...(blends === undefined ? {} : { blends })
	});
}

/** @param bare the program copies it without its axes: nothing in it is taken for one, unless a corner says so */
export function tableIn({ body, x, y }: TextsOfTable, bare = false): PastedTable {
	const pasted = readPasted(body, {
		...(x === undefined ? {} : { x }),
		...(y === undefined ? {} : { y }),
		none: bare
	});
	if ('scalars' in pasted) throw new InputError('a table is expected, lines of single values were found');
	return pasted.table;
}

function named<T>(what: string, work: () => T): T {
	try {
		return work();
	} catch (e) {
		if (e instanceof InputError) throw new InputError(e.message, what);
		throw e;
	}
}
