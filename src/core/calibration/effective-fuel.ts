/**
 * What the engine really gets: injector pulse without dead time over the axes of the fuel table, by the fuel model's own equation.
 * A constant halved while a table is doubled may be the same fuel, or not; only this tells.
 *
 * pulse-width: pulse = referencePulse × table/100 × (map / mapScaling, unless none) × (1 + trim/100)
 * speed-density: fuel ∝ VE × map / (lambda target) × (1 + trim/100), divided by injector flow
 * maf: fuel ∝ air meter curve / lambda target × (1 + trim/100), divided by injector flow
 */
import { turner } from './axes.ts';
import { canonical } from './canonical.ts';
import { cylinderTrims, meanTrim } from './cylinder-trims.ts';
import { Surface, interpolateCurve } from './grid.ts';
import { itemConversion } from './item-units.ts';
import type { Calibration, MapItem } from './document.ts';
import { findCurve, findItem, findMap, membersOf, numberOf } from './lookup.ts';
import { inChannelsOf, STANDARD_KPA } from './resample.ts';

export interface EffectiveFuel {
	x: number[];
	/** Absent rows for the air meter model, which has no second axis: one row. */
	y: number[] | null;
	/** Relative change in percent, one row per y point (one row without y). */
	percent: number[][];
}

/** Factor of the global trim. */
export function trimFactor(c: Calibration): number {
	return 1 + (numberOf(c, 'fuel.trim') ?? 0) / 100;
}

/** The map in the canonical unit of its item. */
function canonicalMap(m: MapItem, baroKpa: number): MapItem {
	const { scale, offset } = itemConversion(m, baroKpa);
	return scale === 1 && offset === 0
		? m
		: { ...m, values: m.values.map((row) => row.map((v) => scale * v + offset)) };
}

/**
 * The value of a map, blended members averaged; a function of x and y on the channels that `like` is read by, or `null` when the
 * calibration has none.
 */
export function surfaceOf(
	c: Calibration,
	id: string,
	like: MapItem | null,
	baroKpa = STANDARD_KPA
): ((x: number, y: number) => number) | null {
	const maps = membersOf(c, id)
		.map((m) => findMap(c, m))
		.filter((m): m is MapItem => m !== null)
		.map((m) => canonicalMap(m, baroKpa))
		.map((m) => (like ? inChannelsOf(m, like, baroKpa) : m))
		.map((m) => new Surface(m.x.points, m.y.points, m.values));
	if (maps.length === 0) return null;
	return (x, y) => maps.reduce((s, m) => s + m.at(x, y), 0) / maps.length;
}

/** Pressure that the reference pulse is scaled by; `null` when the pulse doesn't follow pressure. */
export function mapScalingKpa(c: Calibration): number | null {
	return numberOf(c, 'fuel.mapScaling');
}

/**
 * Relative amount of fuel at one point, in the model's own terms; only ratios between calibrations of one model mean anything.
 * @param like table whose channels x and y are given in
 * @param mapKpa manifold pressure at the point, for a pulse that follows pressure
 */
function amount(
	c: Calibration,
	like: MapItem | null,
	baroKpa: number
): ((x: number, y: number, mapKpa: number) => number) | null {
	const cylinders = cylinderTrims(c, 'fuel.cylTrim');
	const mean = cylinders ? meanTrim(cylinders, like, baroKpa) : () => 0;
	const overall = trimFactor(c);
	const trims = (x: number, y: number) => overall * (1 + mean(x, y) / 100);
	const target = surfaceOf(c, 'lambda.target', like, baroKpa);
	if (c.fuelModel === 'maf') {
		const curve = findCurve(c, 'maf.curve');
		if (!curve) return null;
		return (x) => interpolateCurve(curve.x.points, curve.values, x) * trims(x, 0);
	}
	const table = surfaceOf(c, 'fuel.table', like, baroKpa);
	if (!table) return null;
	if (c.fuelModel === 'pulse-width') {
		const reference = numberOf(c, 'fuel.referencePulse') ?? 1;
		const scaling = mapScalingKpa(c);
		return (x, y, mapKpa) => reference * (table(x, y) / 100) * (scaling ? mapKpa / scaling : 1) * trims(x, y);
	}
	return (x, y) => (table(x, y) / (target ? target(x, y) : 1)) * trims(x, y);
}

/** Whether injector data differ: then the amount is compared as mass, not as pulse. */
export function injectorsDiffer(a: Calibration, b: Calibration): boolean {
	// By their numbers in canonical units, as far as a document's decimals carry.
	const said = (c: Calibration, id: string) => {
		const item = findItem(canonical(c), id);
		if (!item || item.kind === 'map') return JSON.stringify(item);
		const numbers = item.kind === 'curve' ? [...item.x.points, ...item.values] : [Number(item.value)];
		return numbers.map((v) => v.toPrecision(5)).join(' ');
	};
	return ['injector.flow', 'injector.deadTime'].some((id) => said(a, id) !== said(b, id));
}

/**
 * Change of the effective fuel from one calibration to another in percent, on the axes of the first one's fuel table (air meter model: its curve).
 * @returns `null` where the fuel models differ, or there is no fuel table to put it on
 */
export function effectiveFuel(
	own: Calibration,
	other: Calibration,
	baroKpa = STANDARD_KPA
): EffectiveFuel | null {
	if (own.fuelModel !== other.fuelModel) return null;
	const [a, b] = [canonical(own), canonical(other)];
	const first = membersOf(a, 'fuel.table')[0];
	const table = first ? findMap(a, first) : null;
	const amountA = amount(a, table, baroKpa);
	const amountB = amount(b, table, baroKpa);
	if (!amountA || !amountB) return null;
	// A pulse computed from mass is that mass over the injector's flow: comparing mass drops the flow on both sides. In the
	// pulse-width model the pulse is what is set, and the mass goes with the flow.
	const flow =
		a.fuelModel === 'pulse-width' && injectorsDiffer(a, b)
			? (numberOf(b, 'injector.flow') ?? 1) / (numberOf(a, 'injector.flow') ?? 1)
			: 1;
	const percentAt = (x: number, y: number, kpa: number) =>
		100 * ((amountB(x, y, kpa) * flow) / amountA(x, y, kpa) - 1);
	if (a.fuelModel === 'maf') {
		const points = findCurve(a, 'maf.curve')!.x.points;
		return {
			x: findCurve(own, 'maf.curve')!.x.points,
			y: null,
			percent: [points.map((x) => clean(percentAt(x, 0, 0)))]
		};
	}
	const written = first ? findMap(own, first) : null;
	if (!table || !written) return null;
	return {
		x: written.x.points,
		y: written.y.points,
		percent: table.y.points.map((y) =>
			table.x.points.map((x) => clean(percentAt(x, y, kpaOf(table, y, baroKpa))))
		)
	};
}

/** Pressure of a row, kPa; only its ratio between two calibrations matters where the axis is something else. */
function kpaOf(table: MapItem, y: number, baroKpa: number): number {
	return turner(table.y, { channel: 'map' }, baroKpa)?.(y) ?? 100;
}

function clean(v: number): number {
	return Number.isFinite(v) ? Math.round(v * 1000) / 1000 : 0;
}
