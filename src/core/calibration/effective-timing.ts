/**
 * The timing that a calibration really asks for: the table, and the mean of the cylinder trims. A trigger offset turns the whole table
 * against the crank: two tables under different offsets give different crank angles for the same number.
 */
import { cylinderTrims, meanTrim } from './cylinder-trims.ts';
import type { Calibration, MapItem } from './document.ts';
import { findMap, membersOf, numberOf } from './lookup.ts';
import { surfaceOf } from './effective-fuel.ts';
import { STANDARD_KPA } from './resample.ts';

export interface EffectiveTiming {
	x: number[];
	y: number[];
	/** Change in degrees, one row per y point; positive = more advance. As far as the trigger set-up is the same. */
	degrees: number[][];
	/** How much the trigger offsets differ, −360 to 360; 0 where they are the same or unknown. */
	offsetDeg: number;
}

function meanTiming(c: Calibration, like: MapItem): (x: number, y: number) => number {
	const trims = cylinderTrims(c, 'spark.cylTrim');
	return trims ? meanTrim(trims, like, STANDARD_KPA) : () => 0;
}

/** Change of the effective timing from `a` to `b` on the axes of a's table; `null` where one of them has none. */
export function effectiveTiming(a: Calibration, b: Calibration): EffectiveTiming | null {
	const first = membersOf(a, 'spark.table')[0];
	const table = first ? findMap(a, first) : null;
	const left = surfaceOf(a, 'spark.table', table);
	const right = surfaceOf(b, 'spark.table', table);
	if (!left || !right || !table) return null;
	const [trimA, trimB] = [meanTiming(a, table), meanTiming(b, table)];
	const [before, after] = [numberOf(a, 'trigger.offset'), numberOf(b, 'trigger.offset')];
	return {
		x: table.x.points,
		y: table.y.points,
		degrees: table.y.points.map((y) =>
			table.x.points.map(
				(x) => Math.round((right(x, y) - left(x, y) + trimB(x, y) - trimA(x, y)) * 100) / 100
			)
		),
		offsetDeg: before === null || after === null ? 0 : wrapped(after - before)
	};
}

/** A crank angle over two turns, as the nearest way round. */
function wrapped(deg: number): number {
	const d = ((deg % 720) + 720) % 720;
	return d > 360 ? d - 720 : d;
}
