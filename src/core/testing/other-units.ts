/** A calibration as a program of other units writes it: the same physical numbers, for whoever proves that nothing hangs on the unit. */
import { axisUnit } from '../calibration/axes.ts';
import { parseCalibration, type Axis, type Calibration, type Item } from '../calibration/document.ts';
import { itemTurner } from '../calibration/item-units.ts';
import { itemKind } from '../calibration/items.ts';
import { convert } from '../units/units.ts';

/** What a program of pounds and ratios writes for a canonical unit. */
const OTHER: Record<string, string> = { kPa: 'psi', λ: 'AFR', 'g/s': 'lb/h', '°C': '°F', ms: 'µs' };

function otherAxis(axis: Axis): Axis {
	const unit = axisUnit(axis);
	const to = OTHER[unit];
	return to ? { ...axis, unit: to, points: axis.points.map((p) => convert(p, unit, to)) } : axis;
}

function otherItem(item: Item): Item {
	if (item.kind === 'setting') return item;
	const unit = item.unit ?? itemKind(item.id)?.unit ?? '';
	const to = OTHER[unit];
	const turn = (to && itemTurner(item, to, 0)) || null;
	const value = (v: number) => (turn ? turn(v) : v);
	const named = turn ? { unit: to! } : {};
	if (item.kind === 'scalar') return { ...item, ...named, value: value(item.value) };
	if (item.kind === 'curve')
		return { ...item, ...named, x: otherAxis(item.x), values: item.values.map(value) };
	return {
		...item,
		...named,
		x: otherAxis(item.x),
		y: otherAxis(item.y),
		values: item.values.map((r) => r.map(value))
	};
}
/** Limits of an item stand in its unit; here nothing has any. */
export const inOtherUnits = (c: Calibration): Calibration =>
	parseCalibration({ ...c, items: c.items.map(otherItem) });
