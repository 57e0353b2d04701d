/**
 * Units of an item's values. A document keeps those of the tuner's program; whatever computes with a value turns it into the canonical unit
 * of its item first.
 */
import { STOICH_PETROL } from '../units/fuel.ts';
import { conversionOf, parseUnit, type Conversion, type Unit } from '../units/units.ts';
import { itemKind } from './items.ts';

const SAME: Conversion = { scale: 1, offset: 0 };

function known(unit: string | undefined): Unit | null {
	return unit === undefined || unit === '' ? null : parseUnit(unit);
}

/**
 * Canonical value of a known item = scale × value + offset; the value itself where nothing is known of its unit.
 * @param baroKpa what gauge pressures are counted from
 */
export function itemConversion(item: { id: string; unit?: string | undefined }, baroKpa: number): Conversion {
	const written = known(item.unit);
	const own = known(itemKind(item.id)?.unit);
	if (!written || !own || written.quantity !== own.quantity || written.id === own.id) return SAME;
	return conversionOf(written, STOICH_PETROL, baroKpa);
}

/**
 * Turns values of an item into another unit; `null` where the two measure different things.
 * @example itemTurner({ id: 'lambda.target', unit: 'λ' }, 'AFR', 100)!(1) // 14.7
 */
export function itemTurner(
	item: { id: string; unit?: string | undefined },
	unit: string | undefined,
	baroKpa: number
): ((v: number) => number) | null {
	if (unit === undefined || unit === '' || unit === item.unit) return (v) => v;
	const from = known(item.unit ?? itemKind(item.id)?.unit);
	const to = known(unit);
	if (!from || !to) return item.unit === undefined ? (v) => v : null;
	if (from.quantity !== to.quantity) return null;
	const [a, b] = [conversionOf(from, STOICH_PETROL, baroKpa), conversionOf(to, STOICH_PETROL, baroKpa)];
	return (v) => (a.scale * v + a.offset - b.offset) / b.scale;
}
