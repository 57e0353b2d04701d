/** Axes of tables as a reader with units of their own reads them; points that are written in the reader's unit stay as they are written. */
import { axisPlain, axisShownUnit, type AxisRef } from '$core/calibration/axes';
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
