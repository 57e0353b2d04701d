/**
 * A calibration in canonical units, and changes back in its own. A document keeps the units of the tuner's program; whatever computes
 * with it takes it through here first and hands what it changes back through here: no code in between sees a unit.
 *
 * A gauge pressure stays one (in kPa): what it is counted from is the air of the log that the table is read along.
 */
import { STOICH_PETROL } from '../units/fuel.ts';
import { CANONICAL_UNIT, conversionOf, parseUnit, type Conversion } from '../units/units.ts';
import { axisPlain, type PlainAxis } from './axes.ts';
import type { Axis, Calibration, Item } from './document.ts';
import { decimalsOf, roundTo } from './lookup.ts';
import { itemKind } from './items.ts';

const MOST_DECIMALS = 8;
const SAME: Conversion = { scale: 1, offset: 0 };
const done = new WeakMap<Calibration, Calibration>();

/** How an item's values become canonical; `unit` is what they are in then. */
export interface Turn extends Conversion {
	unit: string | undefined;
}

/** @param baroKpa air that gauge pressures are counted from; without it they stay gauge, in kPa */
export function turnOf(item: { id: string; unit?: string | undefined }, baroKpa?: number): Turn {
	const written = item.unit ? parseUnit(item.unit) : null;
	const known = parseUnit(itemKind(item.id)?.unit ?? '');
	if (!written || !known || written.quantity !== known.quantity || written.id === known.id)
		return { ...SAME, unit: item.unit };
	const unit = CANONICAL_UNIT[known.quantity];
	// Counted from no air where none is given: the offset of a gauge comes in along a log.
	return {
		...conversionOf(written, STOICH_PETROL, baroKpa ?? 0),
		unit: written.gauge && baroKpa === undefined ? `${unit} gauge` : unit
	};
}

/** Canonical size of one unit of an item's last decimal. */
export const stepOf = (item: Item): number => turnOf(item).scale * 10 ** -decimalsOf(item);

/** Enough decimals that no value of the item's own falls between two. */
function finer(item: Item, { scale }: Turn): number {
	return Math.min(MOST_DECIMALS, Math.max(0, Math.ceil(-Math.log10(scale * 10 ** -decimalsOf(item)) + 1)));
}

const turned = (points: readonly number[], { scale, offset }: Conversion): number[] =>
	points.map((p) => scale * p + offset);

function plainAxis(axis: Axis, baroKpa?: number): Axis {
	const plain: PlainAxis = axisPlain(axis, baroKpa);
	if (plain.same) return axis;
	return { ...axis, channel: plain.channel, unit: plain.unit, points: turned(axis.points, plain) };
}

function plainItem(item: Item, baroKpa?: number): Item {
	if (item.kind === 'setting') return item;
	const turn = turnOf(item, baroKpa);
	const same = turn.scale === 1 && turn.offset === 0;
	const head = same
		? {}
		: {
				unit: turn.unit,
				decimals: finer(item, turn),
				...(item.min === undefined ? {} : { min: turn.scale * item.min + turn.offset }),
				...(item.max === undefined ? {} : { max: turn.scale * item.max + turn.offset })
			};
	if (item.kind === 'scalar')
		return same ? item : { ...item, ...head, value: turn.scale * item.value + turn.offset };
	const x = plainAxis(item.x, baroKpa);
	if (item.kind === 'curve')
		return same && x === item.x ? item : { ...item, ...head, x, values: turned(item.values, turn) };
	const y = plainAxis(item.y, baroKpa);
	if (same && x === item.x && y === item.y) return item;
	return { ...item, ...head, x, y, values: item.values.map((row) => turned(row, turn)) };
}

function turnedWhole(c: Calibration, baroKpa?: number): Calibration {
	const items = c.items.map((i) => plainItem(i, baroKpa));
	const blends = c.blends?.map((b) => {
		const plain = axisPlain(b, baroKpa);
		return plain.same
			? b
			: { ...b, channel: plain.channel, unit: plain.unit, points: turned(b.points, plain) };
	});
	const same =
		items.every((item, i) => item === c.items[i]) && (blends ?? []).every((b, i) => b === c.blends![i]);
	return same ? c : { ...c, items, ...(blends ? { blends } : {}) };
}

/** The same calibration in canonical units; itself where it is in them. The same object for the same document. */
export function canonical(c: Calibration): Calibration {
	const before = done.get(c);
	if (before) return before;
	const out = turnedWhole(c);
	done.set(c, out);
	done.set(out, out);
	return out;
}

/** The same with every pressure absolute, for one day's air: boost, gauge pressures and ratios become manifold pressure. */
export const absolute = (c: Calibration, baroKpa: number): Calibration => turnedWhole(c, baroKpa);

interface Cell {
	x: number;
	y: number;
	from: number;
	to: number;
}

/** Finds an item's cells by the points of one form and gives those of the other. */
function places(item: Exclude<Item, { kind: 'setting' }>, other: typeof item) {
	const point = (from: Axis | undefined, to: Axis | undefined, v: number) =>
		to?.points[from?.points.indexOf(v) ?? -1] ?? v;
	return ({ x, y }: { x: number; y: number }) => ({
		x: item.kind === 'scalar' || other.kind === 'scalar' ? x : point(item.x, other.x, x),
		y: item.kind === 'map' && other.kind === 'map' ? point(item.y, other.y, y) : y
	});
}

function valueAt(
	item: Exclude<Item, { kind: 'setting' }>,
	{ x, y }: { x: number; y: number }
): number | undefined {
	if (item.kind === 'scalar') return item.value;
	const c = item.x.points.indexOf(x);
	return item.kind === 'curve' ? item.values[c] : item.values[item.y.points.indexOf(y)]?.[c];
}

/**
 * Changes that were made to the canonical form of a calibration, in its own units, rounded to the decimals of its items. What comes out
 * as it was is no change.
 * @param own the calibration as the document has it @param baroKpa the air that it was made absolute with, where it was
 */
export function inOwnUnits<C extends Cell>(
	own: Calibration,
	id: string,
	cells: readonly C[],
	baroKpa?: number
): C[] {
	const item = own.items.find((i) => i.id === id);
	const plain = item && plainItem(item, baroKpa);
	if (!item || !plain || item === plain || item.kind === 'setting' || plain.kind === 'setting')
		return [...cells];
	const { scale, offset } = turnOf(item, baroKpa);
	const at = places(plain, item);
	return cells.flatMap((cell) => {
		const place = at(cell);
		const from = valueAt(item, place) ?? (cell.from - offset) / scale;
		const raw = (cell.to - offset) / scale;
		const to = roundTo(raw, decimalsOf(item));
		// Values with more decimals than the table is kept to would all change by being rounded.
		const nothing = to === from || Math.abs(raw - from) < 0.5 * 10 ** -decimalsOf(item);
		return nothing ? [] : [{ ...cell, ...place, from, to }];
	});
}
