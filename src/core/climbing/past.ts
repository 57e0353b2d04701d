/** What earlier rungs tell of this one: where it was pulled before, and how hot it was. */
import { knownAmbient } from '../evidence/ambient.ts';
import type { Calibration, MapItem } from '../calibration/document.ts';
import { findMap } from '../calibration/lookup.ts';
import { ethanolPctOf, SAME_FUEL_POINTS } from '../evidence/ethanol.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { median } from '../stats/stats.ts';
import type { LadderCase, ScreenedLog } from './case.ts';
import { seenBy } from './seen.ts';

/** Below timing that was pulled, this much is kept on the same fuel, degrees. Common practice. */
const KEPT_DEG = 2;
/** A day this much cooler than the hottest of the season still proves, °C. Common practice. */
const HOT_WITHIN_C = 5;

/** The timing table, where it stands over pressure and engine speed. */
export function timingTable(c: Calibration): MapItem | null {
	const table = findMap(c, 'spark.table');
	return table && table.y.channel === 'map' && table.x.channel === 'rpm' ? table : null;
}

/** A log was driven on a day about as hot as the season has them: intake air follows the outside air. Not logged, nothing is proved. */
export const hotProven = (logs: readonly ScreenedLog[]): boolean =>
	logs.some(
		({ input }) =>
			(input.frame.bounds('ambientTemp')?.min ?? -Infinity) >= input.profile.hottestDayC - HOT_WITHIN_C
	);

/** What a rung is proven for. */
export interface Proven {
	ethanolPct: number | null;
	/** Intake air under load, the median of the pulls' hottest; outside air; barometer. */
	iatC: number | null;
	ambientC: number | null;
	baroKpa: number;
	/** As hot as the season has it: a final timing needs nothing in hand. */
	hot: boolean;
}

export function provenIn(logs: readonly ScreenedLog[]): Proven | null {
	const newest = logs.at(-1);
	if (!newest) return null;
	const { frame, segments } = newest.input;
	const hottest = topsInPulls(newest.input, frame.get('iat'));
	return {
		ethanolPct: ethanolOf(logs),
		iatC: hottest.length ? median(hottest) : null,
		ambientC: knownAmbient(newest.input)?.ambientC ?? null,
		baroKpa: segments.baroKpa,
		hot: hotProven(logs)
	};
}

/** The highest of a column in each full-throttle pull that has any. */
export function topsInPulls({ segments }: Prepared, column: Float32Array | null | undefined): number[] {
	if (!column) return [];
	return segments.pulls.flatMap((p) => {
		let top = -Infinity;
		for (let i = p.from; i <= p.to; i++) if (column[i]! > top) top = column[i]!;
		return top > -Infinity ? [top] : [];
	});
}

/** The cells given, around them and everywhere above them in load. */
export function aroundAndAbove(table: MapItem, which: readonly boolean[]): Set<number> {
	const nx = table.x.points.length;
	const ny = table.y.points.length;
	const out = new Set<number>();
	which.forEach((there, at) => {
		if (!there) return;
		const [r, k] = [Math.floor(at / nx), at % nx];
		for (let rr = Math.max(0, r - 1); rr < ny; rr++)
			for (let kk = Math.max(0, k - 1); kk <= Math.min(nx - 1, k + 1); kk++) out.add(rr * nx + kk);
	});
	return out;
}

/** Ethanol of what a rung was driven on, by its newest log; `null` where nobody knows. */
export const ethanolOf = (logs: readonly ScreenedLog[]): number | null => {
	const newest = logs.at(-1);
	return newest ? ethanolPctOf(newest.input) : null;
};

/**
 * The most timing a cell may have for what earlier rungs saw on this fuel, or on one with more ethanol: 2° under what was pulled there,
 * and where it knocked also around it and above it in load. Infinite where nothing was heard.
 */
export function heardBefore(c: LadderCase, table: MapItem): Float64Array {
	const nx = table.x.points.length;
	const caps = new Float64Array(nx * table.y.points.length).fill(Infinity);
	const now = ethanolOf(c.logs);
	for (const rung of c.earlier ?? []) {
		const then = timingTable(rung.calibration);
		const fuel = ethanolOf(rung.logs);
		// A knock on poorer fuel says nothing about this one; one on a richer blend does.
		if (!then || !sameAxes(then, table) || (now !== null && fuel !== null && fuel < now - SAME_FUEL_POINTS))
			continue;
		const seen = seenBy(then, rung.logs);
		const cap = (at: number) => {
			const value = then.values[Math.floor(at / nx)]![at % nx]! - KEPT_DEG;
			if (value < caps[at]!) caps[at] = value;
		};
		seen.forEach((s, at) => {
			if (s.near) cap(at);
		});
		const knocked = seen.map((s) => s.knocked);
		for (const at of aroundAndAbove(then, knocked)) cap(at);
	}
	return caps;
}

/** Both tables stand on the same breakpoints. */
export const sameAxes = (a: MapItem, b: MapItem): boolean =>
	samePoints(a.x.points, b.x.points) && samePoints(a.y.points, b.y.points);
const samePoints = (a: readonly number[], b: readonly number[]): boolean =>
	a.length === b.length && a.every((p, i) => p === b[i]);
