/** Axes and cells of tables as a reader with units of their own reads them; what is written in the reader's unit stays as it is written. */
import { axisPlain, axisShownUnit, type AxisRef } from '$core/calibration/axes';
import { turnOf } from '$core/calibration/canonical';
import { actsOn } from '$core/calibration/items';
import { fixed } from '$core/format';
import { shown, type UnitChoice } from '$core/units/display';

export interface ReadAxis {
	/** Empty where the axis has none. */
	unit: string;
	text(point: number): string;
}

export function axisFor(axis: AxisRef, choice: UnitChoice): ReadAxis {
	const own = axisShownUnit(axis);
	const { scale, offset, unit } = axisPlain(axis);
	const canonical = axisShownUnit({ channel: axis.channel, unit });
	const seen = shown(0, canonical, choice);
	if (seen.unit === own.replace(/ abs$/, '') || seen.unit === canonical)
		return { unit: own.replace(/ abs$/, ''), text: String };
	return {
		unit: seen.unit,
		text: (point) => {
			const s = shown(scale * point + offset, canonical, choice);
			return fixed(s.value, s.decimals);
		}
	};
}

const GAUGE = ' gauge';

/**
 * A cell's value in the reader's unit, with it. The grid itself keeps the table's own: what is copied, pasted and typed there is what stands in
 * the tuner's program.
 * @returns `null` where the table is in the reader's unit, or nobody converts it
 */
export function valueFor(
	item: { id: string; unit?: string | undefined },
	choice: UnitChoice
): ((value: number) => string) | null {
	const { scale, offset, unit: plain } = turnOf(item);
	if (plain === undefined) return null;
	const gauge = plain.endsWith(GAUGE);
	const canonical = gauge ? plain.slice(0, -GAUGE.length) : plain;
	// Only what acts on boost is a pressure of the manifold, which has a gauge form.
	const unit = canonical === 'kPa' && !gauge && actsOn(item.id, 'boost') ? 'kPa abs' : canonical;
	const seen = shown(0, unit, choice).unit + (gauge ? GAUGE : '');
	if (seen === item.unit) return null;
	return (value) => {
		const s = shown(scale * value + offset, unit, choice);
		return `${fixed(s.value, s.decimals)} ${seen}`;
	};
}
