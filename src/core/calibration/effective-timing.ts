/**
 * The timing that a calibration really asks for: the table, and the mean of the cylinder trims. A trigger offset turns the whole table
 * against the crank: two tables under different offsets give different crank angles for the same number.
 */
import { findCurve, findMap, membersOf, numberOf, type Calibration } from './document.ts';
import { surfaceOf } from './effective-fuel.ts';

export interface EffectiveTiming {
	x: number[];
	y: number[];
	/** Change in degrees, one row per y point; positive = more advance. As far as the trigger set-up is the same. */
	degrees: number[][];
	/** How much the trigger offsets differ, −360 to 360; 0 where they are the same or unknown. */
	offsetDeg: number;
}

function meanTrim(c: Calibration): number {
	const trims = findCurve(c, 'spark.cylTrim')?.values ?? [];
	return trims.length ? trims.reduce((s, v) => s + v, 0) / trims.length : 0;
}

/** Change of the effective timing from `a` to `b` on the axes of a's table; `null` where one of them has none. */
export function effectiveTiming(a: Calibration, b: Calibration): EffectiveTiming | null {
	const first = membersOf(a, 'spark.table')[0];
	const table = first ? findMap(a, first) : null;
	const left = surfaceOf(a, 'spark.table', table);
	const right = surfaceOf(b, 'spark.table', table);
	if (!left || !right || !table) return null;
	const trim = meanTrim(b) - meanTrim(a);
	const [before, after] = [numberOf(a, 'trigger.offset'), numberOf(b, 'trigger.offset')];
	return {
		x: table.x.points,
		y: table.y.points,
		degrees: table.y.points.map((y) =>
			table.x.points.map((x) => Math.round((right(x, y) - left(x, y) + trim) * 100) / 100)
		),
		offsetDeg: before === null || after === null ? 0 : wrapped(after - before)
	};
}

/** A crank angle over two turns, as the nearest way round. */
function wrapped(deg: number): number {
	const d = ((deg % 720) + 720) % 720;
	return d > 360 ? d - 720 : d;
}
