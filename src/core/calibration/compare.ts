/** What is different between two calibrations, whether it matters, and whether they can be compared at all. */
import { fixed } from '../format.ts';
import { canonical, stepOf } from './canonical.ts';
import { isTable } from './formats/csv.ts';
import { Surface } from './grid.ts';
import { itemConversion } from './item-units.ts';
import type { Axis, Calibration, CurveItem, Item, MapItem } from './document.ts';
import { decimalsOf, findItem } from './lookup.ts';
import { effectiveFuel, injectorsDiffer, type EffectiveFuel } from './effective-fuel.ts';
import { effectiveTiming, type EffectiveTiming } from './effective-timing.ts';
import { inChannelsOf, rowsOf, STANDARD_KPA, yOf } from './resample.ts';
import { actsOn, guardOf } from './items.ts';
import { classify, type ChangeClass } from './risk.ts';

export interface Guard {
	item: string;
	/** What makes the two not comparable. */
	why: string;
	/** Items whose numbers mean something else on the two sides. */
	affects: string[];
}

export interface Change {
	item: string;
	kind: Item['kind'];
	class: ChangeClass;
	/** The rule behind the class, in words. */
	rule: string;
	cellsChanged: number;
	/** Extremes and mean of the change (new − old) over the changed cells; 0 for texts. */
	min: number;
	max: number;
	mean: number;
	/** For scalars and settings. */
	from?: string | number | boolean;
	to?: string | number | boolean;
	/** In which the item exists only. */
	only?: 'a' | 'b';
}

export interface Comparison {
	comparable: 'all' | 'partly' | 'none';
	guards: Guard[];
	changes: Change[];
	effectiveFuel: EffectiveFuel | null;
	effectiveTiming: EffectiveTiming | null;
}

function affected(a: Calibration, b: Calibration, by: (id: string) => boolean): string[] {
	const ids = new Set([...a.items, ...b.items].map((i) => i.id));
	return [...ids].filter(by);
}

function guardsOf(a: Calibration, b: Calibration): Guard[] {
	const guards: Guard[] = [];
	if (a.fuelModel !== b.fuelModel)
		guards.push({
			item: 'fuelModel',
			why: `the fuel models differ: ${a.fuelModel} against ${b.fuelModel}`,
			affects: affected(a, b, (id) => actsOn(id, 'fuel', 'target'))
		});
	const ids = new Set([...a.items, ...b.items].map((i) => i.id));
	for (const id of ids) {
		const guard = guardOf(id);
		if (!guard) continue;
		const left = findItem(a, id);
		const right = findItem(b, id);
		if (sameItem(left, right)) continue;
		guards.push({ item: id, why: guard.why, affects: affected(a, b, guard.affects) });
	}
	const unverified = [a, b].some((c) => {
		const item = findItem(c, 'spark.baseVerified');
		return item?.kind === 'setting' && String(item.value).trim() === '';
	});
	const timing = affected(a, b, (id) => actsOn(id, 'timing'));
	if (unverified && timing.length)
		guards.push({
			item: 'spark.baseVerified',
			why: 'base timing was not verified: nobody knows which crank angle a table value is',
			affects: timing
		});
	return guards;
}

/** Numbers that agree to this share are the same: single precision and sums of decimals differ beyond it. */
const ALIKE = 1e-7;
const sameNumber = (a: number, b: number): boolean =>
	a === b || Math.abs(a - b) <= ALIKE * Math.max(Math.abs(a), Math.abs(b));

const sameNumbers = (a: readonly number[], b: readonly number[]): boolean =>
	a.length === b.length && a.every((v, i) => sameNumber(v, b[i]!));

/** Keys that stand beside the points of an axis say what it is. */
function sameAxisAs(a: Axis, b: Axis): boolean {
	const beside = ({ points: _, ...rest }: Axis) => JSON.stringify(rest);
	return sameNumbers(a.points, b.points) && beside(a) === beside(b);
}

/** Whether two items say the same: by their numbers and axes, not titles or groups. Two that aren't there say the same. */
export function sameItem(a: Item | undefined, b: Item | undefined): boolean {
	if (!a || !b) return a === b;
	if (a.unit !== b.unit) return false;
	if (a.kind === 'map' && b.kind === 'map')
		return (
			sameAxisAs(a.x, b.x) &&
			sameAxisAs(a.y, b.y) &&
			a.values.length === b.values.length &&
			a.values.every((row, r) => sameNumbers(row, b.values[r]!))
		);
	if (a.kind === 'curve' && b.kind === 'curve')
		return sameAxisAs(a.x, b.x) && sameNumbers(a.values, b.values);
	if (a.kind !== b.kind || a.kind === 'map' || a.kind === 'curve' || b.kind === 'map' || b.kind === 'curve')
		return false;
	return typeof a.value === 'number' && typeof b.value === 'number'
		? sameNumber(a.value, b.value)
		: a.value === b.value;
}

const equal = (a: readonly number[], b: readonly number[]): boolean =>
	a.length === b.length && a.every((v, i) => v === b[i]);

const SAME_VALUES = {
	class: 'neutral' as const,
	rule: 'only its axes or unit differ; the values are the same',
	cellsChanged: 1,
	min: 0,
	max: 0,
	mean: 0
};

interface Deltas {
	count: number;
	min: number;
	max: number;
	mean: number;
}

function summary(deltas: readonly number[]): Deltas {
	const changed = deltas.filter((d) => d !== 0);
	if (changed.length === 0) return { count: 0, min: 0, max: 0, mean: 0 };
	return {
		count: changed.length,
		min: Math.min(...changed),
		max: Math.max(...changed),
		mean: changed.reduce((s, d) => s + d, 0) / changed.length
	};
}

/** Differences of a table on b's own points: a is looked up there, so that moved axes compare surface with surface. */
export function tableDelta(
	other: CurveItem | MapItem,
	b: CurveItem | MapItem,
	baroKpa = STANDARD_KPA
): number[][] {
	const a = inChannelsOf(other, b, baroKpa);
	const surface = new Surface(a.x.points, yOf(a), rowsOf(a));
	const sameAxes = equal(a.x.points, b.x.points) && equal(yOf(a), yOf(b));
	// A resampled table is rounded: less than half of its last decimal is no difference.
	const noise = sameAxes ? 0 : 0.5 * 10 ** -decimalsOf(b) + 1e-9;
	return rowsOf(b).map((row, r) =>
		row.map((v, c) => {
			const old = sameAxes ? rowsOf(a)[r]![c]! : surface.at(b.x.points[c]!, yOf(b)[r]!);
			const d = tidy(v - old);
			return Math.abs(d) <= noise || sameNumber(v, old) ? 0 : d;
		})
	);
}

/**
 * The same of two tables that may be written in different units: values that were turned into another unit were rounded there, and less
 * than half of the coarser last digit is no difference.
 * @param a, b as their documents have them
 * @returns differences in canonical units
 */
export function canonicalDelta(
	a: CurveItem | MapItem,
	b: CurveItem | MapItem,
	plain: { a: CurveItem | MapItem; b: CurveItem | MapItem },
	baroKpa = STANDARD_KPA
): number[][] {
	const noise = rewriteNoise(a, b);
	return tableDelta(plain.a, plain.b, baroKpa).map((row) => row.map((d) => (Math.abs(d) <= noise ? 0 : d)));
}

/** What rounding in another unit makes of a value, canonical; 0 where both are written in one unit. */
const rewriteNoise = (a: Item, b: Item): number =>
	a.unit === b.unit ? 0 : 0.5 * Math.max(stepOf(a), stepOf(b)) + 1e-9;

/** Rounds away the noise of binary fractions. */
function tidy(v: number): number {
	return Math.round(v * 1e9) / 1e9;
}

/** An item as the document has it, and in canonical units. */
interface Both {
	own: Item;
	plain: Item;
}

function changeOf(a: Both | undefined, b: Both | undefined, baroKpa: number): Change | null {
	const [left, right] = [a?.own, b?.own];
	const item = (right ?? left)!;
	const base = { item: item.id, kind: item.kind };
	const plain = (i: Item | undefined) =>
		i?.kind === 'scalar' || i?.kind === 'setting' ? i.value : undefined;
	if (!left || !right) {
		const only = left ? ('a' as const) : ('b' as const);
		const value = plain(item);
		return {
			...base,
			class: 'unknown',
			rule: only === 'a' ? 'the item is no longer there' : 'the item is new',
			cellsChanged:
				item.kind === 'map'
					? item.values.length * item.x.points.length
					: item.kind === 'curve'
						? item.values.length
						: 1,
			min: 0,
			max: 0,
			mean: 0,
			only,
			...(value === undefined ? {} : only === 'a' ? { from: value } : { to: value })
		};
	}
	if (sameItem(left, right)) return null;
	const [was, is] = [a!.plain, b!.plain];
	const noise = rewriteNoise(left, right);
	const { scale } = itemConversion(right, 0);
	if (was.kind === 'scalar' && is.kind === 'scalar' && left.kind === 'scalar' && right.kind === 'scalar') {
		const differs = Math.abs(is.value - was.value) > noise && !sameNumber(is.value, was.value);
		if (!differs) return { ...base, ...SAME_VALUES, from: left.value, to: right.value };
		const plainD = is.value - was.value;
		const d = tidy(plainD / scale);
		const { class: cls, rule } = classify(right.id, [plainD], { olds: [was.value] });
		return {
			...base,
			class: cls,
			rule,
			cellsChanged: 1,
			min: d,
			max: d,
			mean: d,
			from: left.value,
			to: right.value
		};
	}
	if (isTable(was) && isTable(is) && isTable(left) && isTable(right) && was.kind === is.kind) {
		const deltas = canonicalDelta(left, right, { a: was, b: is }, baroKpa).flat();
		const olds = rowsOf(is).flatMap((row, r) => row.map((v, c) => v - deltas[r * row.length + c]!));
		const s = summary(deltas);
		if (s.count === 0) return { ...base, ...SAME_VALUES, cellsChanged: 0 };
		const { class: cls, rule } = classify(right.id, deltas, { olds });
		const own = (v: number) => tidy(v / scale);
		return {
			...base,
			class: cls,
			rule,
			cellsChanged: s.count,
			min: own(s.min),
			max: own(s.max),
			mean: own(s.mean)
		};
	}
	const from = plain(left);
	const to = plain(right);
	const numeric = [from, to].map((v) =>
		typeof v === 'boolean' || v === undefined || v === '' ? Number.NaN : Number(v)
	);
	const d = tidy(numeric[1]! - numeric[0]!);
	const { class: cls, rule } = classify(right.id, Number.isFinite(d) ? [d] : [], {
		olds: [numeric[0]!],
		...(from === undefined ? {} : { from }),
		...(to === undefined ? {} : { to })
	});
	const delta = Number.isFinite(d) ? d : 0;
	return {
		...base,
		class: cls,
		rule,
		cellsChanged: 1,
		min: delta,
		max: delta,
		mean: delta,
		...(from === undefined ? {} : { from }),
		...(to === undefined ? {} : { to })
	};
}

/**
 * Compares `b` with `a`, both for one vehicle. `comparable`: none where the fuel models differ, partly under any other guard.
 * @param baroKpa the vehicle's air, by which an axis of pressure ratio is set against one of pressure
 */
export function compare(a: Calibration, b: Calibration, baroKpa = STANDARD_KPA): Comparison {
	const guards = guardsOf(a, b);
	const ids = [...new Set([...a.items, ...b.items].map((i) => i.id))];
	const both = (c: Calibration, id: string): Both | undefined => {
		const own = findItem(c, id);
		return own && { own, plain: findItem(canonical(c), id)! };
	};
	const changes = ids.flatMap((id) => changeOf(both(a, id), both(b, id), baroKpa) ?? []);
	const fuel = effectiveFuel(a, b, baroKpa);
	judgeFuelTogether(changes, fuel, injectorsDiffer(a, b));
	withoutVerdict(changes, guards);
	return {
		comparable: a.fuelModel !== b.fuelModel ? 'none' : guards.length ? 'partly' : 'all',
		guards,
		changes,
		effectiveFuel: fuel,
		effectiveTiming: effectiveTiming(a, b)
	};
}

/**
 * What a guard touches means something else in the two files: that it is safer nobody can say. What looks riskier stays so: a danger that may be
 * one is treated as one. That base timing wasn't verified touches both files alike, and takes no verdict away.
 */
function withoutVerdict(changes: Change[], guards: readonly Guard[]): void {
	for (const guard of guards) {
		if (guard.item === 'spark.baseVerified') continue;
		for (const c of changes)
			if (
				c.item !== guard.item &&
				guard.affects.includes(c.item) &&
				c.class !== 'riskier' &&
				c.cellsChanged > 0
			) {
				c.class = 'unknown';
				c.rule = `no verdict: ${guard.why}`;
			}
	}
}

/** Fuel changes smaller than this (percent) are rounding, not a leaner engine. */
const FUEL_NOISE_PCT = 0.05;

/**
 * Several fuel items changed at once are judged by what comes out of them: a constant halved under a doubled table isn't
 * one risky and one safe change.
 */
function judgeFuelTogether(changes: Change[], fuel: EffectiveFuel | null, injectors: boolean): void {
	const mine = changes.filter((c) => actsOn(c.item, 'fuel') && !c.only);
	if (!fuel || mine.length < 2 || injectors) return;
	const all = fuel.percent.flat();
	const least = Math.min(...all);
	const most = Math.max(...all);
	const cls: ChangeClass = least < -FUEL_NOISE_PCT ? 'riskier' : most > FUEL_NOISE_PCT ? 'safer' : 'neutral';
	for (const c of mine) {
		c.class = cls;
		c.rule = `together the fuel changes give ${fixed(least, 1)} to ${fixed(most, 1)} % effective fuel`;
	}
}
