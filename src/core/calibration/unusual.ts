/** Values that are hardly meant: 999° of timing, a target of 8.5 instead of 0.85. */
import { fixed } from '../format.ts';
import { parseUnit } from '../units/units.ts';
import type { Calibration, Item } from './document.ts';
import { findItem } from './lookup.ts';
import { itemConversion } from './item-units.ts';
import { itemKind, titleOf } from './items.ts';
import { rowsOf } from './resample.ts';

/** Ambient pressure that gauge pressures are counted from here: what is asked is far coarser than the weather. */
const BARO_KPA = 100;

/**
 * What a value of an item lies outside of, in words; `null` where nothing speaks against it.
 * The document's own `min` and `max` count, and what is usual for a known item whose values are in a unit of its kind.
 * @param value in the unit of the item
 * @example unusual(sparkTable, 999) // "outside of −30 to 60 °, which timing usually keeps"
 */
export function unusual(item: Item, value: number): string | null {
	if (item.kind === 'setting') return null;
	const { min, max } = item;
	if ((min !== undefined && value < min) || (max !== undefined && value > max))
		return `outside of ${min ?? '…'} to ${max ?? '…'}, which its definition allows`;
	const known = itemKind(item.id);
	if (!known?.usual || !sameKind(item.unit, known.unit)) return null;
	const { scale, offset } = itemConversion(item, BARO_KPA);
	const [least, most] = known.usual.map((v) => (v - offset) / scale).sort((a, b) => a - b) as [
		number,
		number
	];
	if (value >= least && value <= most) return null;
	const digits = Math.abs(most) < 5 ? 2 : 0;
	return `outside of ${fixed(least, digits)} to ${fixed(most, digits)} ${item.unit ?? known.unit}, which ${titleOf(item)} usually keeps`;
}

function sameKind(unit: string | undefined, known: string): boolean {
	if (unit === undefined || unit === '' || unit === known) return true;
	const [a, b] = [parseUnit(unit), parseUnit(known)];
	return a !== null && b !== null && a.quantity === b.quantity;
}

export interface Unusual {
	item: string;
	title: string;
	/** Changed values that are unusual. */
	count: number;
	/** The one farthest out comes first in the words. */
	why: string;
}

/** Changed values of a draft that are hardly meant, an entry per item; what stood there before the change is nobody's slip. */
export function unusualIn(parent: Calibration, draft: Calibration): Unusual[] {
	return draft.items.flatMap((item): Unusual[] => {
		if (item.kind === 'setting') return [];
		const old = findItem(parent, item.id);
		const before = new Set(old && old.kind !== 'setting' ? numbersOf(old) : []);
		const odd = numbersOf(item).filter((v) => !before.has(v) && unusual(item, v) !== null);
		if (odd.length === 0) return [];
		const worst = odd.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a));
		const title = titleOf(item);
		return [
			{
				item: item.id,
				title,
				count: odd.length,
				why: `${worst}${odd.length > 1 ? ` and ${odd.length - 1} more` : ''}: ${unusual(item, worst)}`
			}
		];
	});
}

const numbersOf = (item: Exclude<Item, { kind: 'setting' }>): number[] =>
	item.kind === 'scalar' ? [item.value] : rowsOf(item).flat();
