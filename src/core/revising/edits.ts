/**
 * Edits of a draft that are more than cells: a setting with another value, a table on other axes. They are applied to the parent
 * first; the cell changes of the draft stand on what comes out.
 */
import { inUnitsOf } from '../calibration/in-units-of.ts';
import type { Calibration, Item, SettingItem } from '../calibration/document.ts';
import { findItem } from '../calibration/lookup.ts';
import { titleOf } from '../calibration/items.ts';
import { resampled, rowsOf, sameAxis, yOf, type NewAxis, type TableItem } from '../calibration/resample.ts';
import { isTable } from '../calibration/formats/csv.ts';
import { InputError } from '../input-error.ts';
import type { AddedEdit, AxesEdit, DraftEdit } from './edit-schema.ts';
import type { DraftChange } from './edit-schema.ts';
import { byHand } from './changes.ts';

/**
 * A setting keeps its kind of value: a number stays a number, yes or no stays that.
 * @throws InputError saying what is expected
 */
export function settingValue(item: SettingItem, text: string | number | boolean): SettingItem['value'] {
	if (typeof item.value === 'boolean') {
		if (text === true || text === 'true') return true;
		if (text === false || text === 'false') return false;
		throw new InputError(`${titleOf(item)} is yes or no: write true or false, not "${text}"`);
	}
	if (typeof item.value === 'number') {
		const n = typeof text === 'number' ? text : Number(String(text).trim().replace(',', '.'));
		if (String(text).trim() === '' || !Number.isFinite(n))
			throw new InputError(`${titleOf(item)} is a number, not "${text}"`);
		if (item.min !== undefined && n < item.min)
			throw new InputError(`${titleOf(item)} is at least ${item.min}`);
		if (item.max !== undefined && n > item.max)
			throw new InputError(`${titleOf(item)} is at most ${item.max}`);
		return n;
	}
	return String(text);
}

function edited(item: Item, edit: Exclude<DraftEdit, AddedEdit>): Item {
	if (edit.kind === 'setting') {
		if (item.kind !== 'setting') throw new InputError(`${titleOf(item)} is no setting`);
		return { ...item, value: settingValue(item, edit.to) };
	}
	if (!isTable(item)) throw new InputError(`${titleOf(item)} has no axes`);
	return resampled(item, edit.x, item.kind === 'map' ? edit.y : null);
}

/**
 * The parent with a draft's edits; the given one is left as it is, items that no edit names are shared. Added items stand at the end.
 * @throws InputError when an edit doesn't fit its item, or adds one that is there
 */
export function withEdits(parent: Calibration, edits: readonly DraftEdit[]): Calibration {
	if (edits.length === 0) return parent;
	const added: Item[] = [];
	const byItem = new Map<string, Exclude<DraftEdit, AddedEdit>>();
	for (const e of edits) {
		if (e.kind !== 'added') {
			if (!findItem(parent, e.item)) throw new InputError(`no item is called "${e.item}"`);
			byItem.set(e.item, e);
		} else if (findItem(parent, e.item) || added.some((i) => i.id === e.item))
			throw new InputError(`"${e.item}" is there already`);
		else added.push({ ...e.to, id: e.item });
	}
	return {
		...parent,
		items: [
			...parent.items.map((item) => {
				const edit = byItem.get(item.id);
				return edit ? edited(item, edit) : item;
			}),
			...added
		]
	};
}

/** The table with the cell changes of a draft in it. */
function withCells<T extends TableItem>(table: T, changes: readonly DraftChange[]): T {
	const rows = rowsOf(table).map((r) => [...r]);
	for (const c of changes) {
		const at = [yOf(table).indexOf(table.kind === 'map' ? c.y : 0), table.x.points.indexOf(c.x)] as const;
		if (at[0] >= 0 && at[1] >= 0) rows[at[0]]![at[1]] = c.to;
	}
	return table.kind === 'map' ? { ...table, values: rows } : { ...table, values: rows[0]! };
}

/**
 * Cell changes of one table carried onto its new axes: what was typed or accepted at a point that is still there stays as it is; in
 * between, the surface that was made is kept, as a change of its own with the reason of the nearest change.
 * @param parent table of the parent, on its own axes
 * @param before edit that the changes stand on so far; null where they stand on the parent's axes
 */
export function movedChanges(
	parent: TableItem,
	before: AxesEdit | null,
	after: AxesEdit | null,
	changes: readonly DraftChange[]
): DraftChange[] {
	if (changes.length === 0) return [];
	const on = (edit: AxesEdit | null) => ({
		x: edit?.x ?? sameAxis(parent.x),
		y: parent.kind === 'map' ? (edit?.y ?? sameAxis(parent.y)) : null
	});
	const [was, now] = [on(before), on(after)];
	const base = resampled(parent, now.x, now.y);
	// Both axes are given against the parent's; the made surface stands on the axes of before.
	const from = (to: NewAxis, of: NewAxis): NewAxis => ({ ...to, scale: to.scale / of.scale });
	const made = resampled(
		withCells(resampled(parent, was.x, was.y), changes),
		from(now.x, was.x),
		now.y && was.y ? from(now.y, was.y) : null
	);
	// Places are compared on the parent's axes: a point read as a ratio is still the same point, but for its rounding.
	const near = (a: number, b: number) => Math.abs(a - b) <= 1e-3 * Math.max(Math.abs(a), Math.abs(b));
	const [wasUp, nowUp] = [was.y?.scale ?? 1, now.y?.scale ?? 1];
	const out: DraftChange[] = [];
	yOf(base).forEach((y, r) =>
		base.x.points.forEach((x, c) => {
			const old = rowsOf(base)[r]![c]!;
			const to = rowsOf(made)[r]![c]!;
			if (to === old) return;
			const same = changes.find(
				(d) => near(d.x * was.x.scale, x * now.x.scale) && near(d.y * wasUp, y * nowUp)
			);
			if (same) {
				out.push({ ...same, x, y, from: old, to });
				return;
			}
			const nearest = changes.reduce((a, b) =>
				(b.x - x) ** 2 + (b.y - y) ** 2 < (a.x - x) ** 2 + (a.y - y) ** 2 ? b : a
			);
			out.push({ ...nearest, x, y, from: old, to, basis: 'carried', samples: 0, se: null });
		})
	);
	return out;
}

export interface TakenOver {
	edits: DraftEdit[];
	changes: DraftChange[];
	/** What the other calibration has that a draft can't take over, in words. */
	left: string[];
}

/**
 * What makes `other` out of `parent`, as edits and cell changes of a draft with one reason: a calibration that was worked on elsewhere.
 * @throws InputError when the fuel models differ
 */
export function takenOver(parent: Calibration, other: Calibration, reason: string): TakenOver {
	if (parent.fuelModel !== other.fuelModel)
		throw new InputError(
			`its fuel model is ${other.fuelModel}, that of the revision ${parent.fuelModel}: that is another calibration, not a change of this one`
		);
	const out: TakenOver = { edits: [], changes: [], left: [] };
	for (const given of other.items) {
		const mine = findItem(parent, given.id);
		if (!mine) {
			out.edits.push({ kind: 'added', item: given.id, to: given, reason });
			continue;
		}
		// As the revision writes it: a file may keep the same table in other units.
		const theirs =
			given.kind === 'setting' || mine.kind === 'setting' || given.kind !== mine.kind
				? given
				: inUnitsOf(given, mine);
		if (!theirs) {
			out.left.push(
				`${titleOf(mine)} is in ${given.kind === 'setting' ? '' : (given.unit ?? 'no unit')} there and in ${mine.kind === 'setting' ? '' : (mine.unit ?? 'no unit')} here`
			);
			continue;
		}
		if (mine.kind !== theirs.kind) {
			out.left.push(`${titleOf(mine)} is a ${theirs.kind} there and a ${mine.kind} here`);
			continue;
		}
		if (mine.kind === 'setting' && theirs.kind === 'setting') {
			if (mine.value !== theirs.value)
				out.edits.push({ kind: 'setting', item: mine.id, to: settingValue(mine, theirs.value), reason });
		} else if (mine.kind === 'scalar' && theirs.kind === 'scalar') {
			if (mine.value !== theirs.value)
				out.changes.push(byHand(mine.id, { x: 0, y: 0 }, mine.value, theirs.value, reason));
		} else if (isTable(mine) && isTable(theirs)) {
			const moved = (a: NewAxis, b: NewAxis) =>
				a.channel !== b.channel || JSON.stringify(a.points) !== JSON.stringify(b.points);
			const x = sameAxis(theirs.x);
			const y = theirs.kind === 'map' ? sameAxis(theirs.y) : null;
			const axesMoved =
				moved(sameAxis(mine.x), x) || (mine.kind === 'map' && y !== null && moved(sameAxis(mine.y), y));
			if (axesMoved) out.edits.push({ kind: 'axes', item: mine.id, x, y, reason });
			const base = axesMoved ? resampled(mine, x, y) : mine;
			yOf(base).forEach((py, r) =>
				base.x.points.forEach((px, c) => {
					const from = rowsOf(base)[r]![c]!;
					const to = rowsOf(theirs)[r]![c]!;
					if (from !== to) out.changes.push(byHand(mine.id, { x: px, y: py }, from, to, reason));
				})
			);
		}
	}
	for (const mine of parent.items)
		if (!findItem(other, mine.id))
			out.left.push(`${titleOf(mine)} is missing in the file and stays as it is`);
	return out;
}
