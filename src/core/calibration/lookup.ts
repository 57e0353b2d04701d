/** What stands in a calibration: items by their id, their values as numbers, and how finely they are written. */
import type { Calibration, CurveItem, Item, MapItem } from './document.ts';
import { itemConversion } from './item-units.ts';
import { itemKind } from './items.ts';

/** What a gauge pressure of a single value is counted from. */
const STANDARD_BARO_KPA = 101.325;

export function findItem(c: Calibration, id: string): Item | undefined {
	return c.items.find((i) => i.id === id);
}

export function findMap(c: Calibration, id: string): MapItem | null {
	const item = findItem(c, id);
	return item?.kind === 'map' ? item : null;
}

export function findCurve(c: Calibration, id: string): CurveItem | null {
	const item = findItem(c, id);
	return item?.kind === 'curve' ? item : null;
}

/** Value of a scalar in the canonical unit of its item, or of a setting that holds a number; `null` when there is no such number. */
export function numberOf(c: Calibration, id: string): number | null {
	const item = findItem(c, id);
	if (item?.kind === 'scalar') {
		const { scale, offset } = itemConversion(item, STANDARD_BARO_KPA);
		return scale * item.value + offset;
	}
	if (item?.kind !== 'setting' || typeof item.value === 'boolean') return null;
	const n = typeof item.value === 'number' ? item.value : Number.parseFloat(item.value);
	return Number.isFinite(n) ? n : null;
}

/** Items in the order of the document, members of a blend standing for the item they blend into. */
export function membersOf(c: Calibration, id: string): string[] {
	return c.blends?.find((b) => b.item === id)?.members ?? (findItem(c, id) ? [id] : []);
}

/** Decimals that values of an item are rounded to: as stated, else as is usual for it. */
export function decimalsOf(item: Item): number {
	if (item.decimals !== undefined) return item.decimals;
	const known = itemKind(item.id)?.decimals ?? 2;
	// As fine as in the unit that the item is known in: a whole kPa is two decimals of a bar.
	const { scale } = itemConversion(item, 0);
	return scale === 1 ? known : Math.max(0, known + Math.ceil(Math.log10(scale) - 1e-9));
}

export function roundTo(value: number, decimals: number): number {
	const f = 10 ** decimals;
	// The half goes away from zero whatever the binary form of the decimal: 1.005 is 1.01.
	return Math.round(value * f * (1 + Number.EPSILON)) / f;
}

/** Whether the value of a switch says that it is on: `false`, `0`, `off`, `no` and `disabled` say no, whatever their case. */
export function isOn(value: string | number | boolean): boolean {
	return !/^(false|off|0+([.,]0*)?|no|none|disabled)$/i.test(String(value).trim());
}
