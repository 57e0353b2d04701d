/**
 * Other injectors: the calibration rescaled for what they flow, so that the engine gets the same fuel as before. Where the controller computes the
 * pulse from the air, its injector data change and nothing else; where the pulse itself is written, it goes with the flow of the old ones over that
 * of the new ones. Injector flow by an orifice: volume ∝ √(pressure / density).
 */
import type { Calibration, Item } from '../calibration/document.ts';
import { decimalsOf, findCurve, findItem, roundTo } from '../calibration/lookup.ts';
import { effectiveFuel } from '../calibration/effective-fuel.ts';
import { interpolateCurve } from '../calibration/grid.ts';
import { itemConversion } from '../calibration/item-units.ts';
import { fixed } from '../format.ts';
import { flowOf, pressureOver } from './injector.ts';
import { InputError } from '../input-error.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { assumedBaroKpa } from '../vehicle/facts.ts';
import { withChanges } from '../revising/changes.ts';

export interface RescaledCell {
	/** Axis values; 0 for a number. */
	x: number;
	y: number;
	from: number;
	to: number;
}

export interface RescaledItem {
	item: string;
	cells: RescaledCell[];
	reason: string;
}

export interface Rescaled {
	changes: RescaledItem[];
	/** What has to be reset or looked at before the first drive, in words. */
	reset: string[];
	/** Other items that are a pulse or a pressure: nobody knows whether they go with the injectors. */
	look: string[];
	/** Change of what the engine gets, percent, over the fuel table; `null` where there is none to compare on. */
	effectiveFuelPct: { min: number; max: number } | null;
	next: Calibration;
}

const RESET = [
	'reset the learned fuel trims, all of them',
	'check the fuel pressure, and every joint for leaks with the system under pressure',
	'make the first log on the ordinary fuel, without boost'
];

/** Flow at the pressure that the rail keeps, cm³/min. */
function flowing(vehicle: Vehicle, which: string): number {
	const rated = vehicle.injectors?.flowCcMin;
	if (!rated) throw new InputError('the flow of the injectors is missing', `${which}: injectors.flowCcMin`);
	const baro = assumedBaroKpa(vehicle);
	return flowOf(vehicle, rated, vehicle.fuel?.ethanolPct ?? 0, pressureOver(vehicle, baro, baro));
}

const cellsOf = (
	item: Exclude<Item, { kind: 'setting' }>,
	to: (v: number, x: number) => number
): RescaledCell[] => {
	const decimals = decimalsOf(item);
	const cell = (x: number, y: number, from: number): RescaledCell[] => {
		const value = roundTo(to(from, x), decimals);
		return value === from ? [] : [{ x, y, from, to: value }];
	};
	if (item.kind === 'scalar') return cell(0, 0, item.value);
	if (item.kind === 'curve') return item.x.points.flatMap((x, i) => cell(x, 0, item.values[i]!));
	return item.y.points.flatMap((y, r) => item.x.points.flatMap((x, c) => cell(x, y, item.values[r]![c]!)));
};

/** Dead time of the new injectors on the axis of the item; `null` where it isn't stated, or the item has another axis. */
function deadTimes(c: Calibration, to: Vehicle): RescaledItem | null {
	const stated = to.injectors?.deadTimeMs;
	const item = findItem(c, 'injector.deadTime');
	if (!stated?.length || !item || item.kind === 'setting' || item.kind === 'map') return null;
	const sorted = [...stated].sort((a, b) => a[0] - b[0]);
	const [volts, ms] = [sorted.map((p) => p[0]), sorted.map((p) => p[1])];
	const { scale, offset } = itemConversion(item, assumedBaroKpa(to));
	const at = (v: number) => (interpolateCurve(volts, ms, v) - offset) / scale;
	const USUAL_V = 13.5;
	const cells = cellsOf(item, (_, x) => at(item.kind === 'scalar' ? USUAL_V : x));
	return cells.length ? { item: item.id, cells, reason: 'Dead time of the new injectors' } : null;
}

/** @throws InputError where a flow is missing */
export function rescale(calibration: Calibration, from: Vehicle, to: Vehicle): Rescaled {
	const ratio = flowing(to, 'new injectors') / flowing(from, 'old injectors');
	const percent = fixed(100 * ratio, 1);
	const changes: RescaledItem[] = [];
	const scaled = (id: string, by: number, reason: string): boolean => {
		const item = findItem(calibration, id);
		if (!item || item.kind === 'setting') return false;
		const cells = cellsOf(item, (v) => v * by);
		if (cells.length) changes.push({ item: id, cells, reason });
		return true;
	};
	const hasFlow = scaled('injector.flow', ratio, `The new injectors flow ${percent} % of the old ones`);
	if (calibration.fuelModel === 'pulse-width') {
		const why = `The pulse goes with the flow: divided by ${fixed(ratio, 4)}`;
		if (!scaled('fuel.referencePulse', 1 / ratio, why))
			for (const item of calibration.items)
				if (
					item.id === 'fuel.table' ||
					calibration.blends?.some((b) => b.item === 'fuel.table' && b.members.includes(item.id))
				)
					scaled(item.id, 1 / ratio, why);
	} else if (!hasFlow)
		throw new InputError(
			'the calibration has no injector flow: where the pulse is computed from air, that is the one number to change',
			'injector.flow'
		);
	const dead = deadTimes(calibration, to);
	if (dead) changes.push(dead);
	const next = withChanges(calibration, changes);
	const after = effectiveFuel(calibration, next);
	// Without injector data in the calibration the comparison is of pulses: the flow is known here.
	const byFlow = calibration.fuelModel === 'pulse-width' && !hasFlow ? ratio : 1;
	const all = (after?.percent.flat() ?? []).map((p) => roundTo(100 * ((1 + p / 100) * byFlow - 1), 3));
	const done = new Set(changes.map((c) => c.item));
	return {
		changes,
		reset: [
			...RESET,
			...(findCurve(calibration, 'injector.deadTime') && !dead
				? ['find out the dead time: none is stated for the new injectors, and it weighs most at idle']
				: [])
		],
		look: calibration.items
			.filter(
				(i) => !done.has(i.id) && i.kind !== 'setting' && /^(ms|µs|us|kPa|bar|psi|MPa)\b/.test(i.unit ?? '')
			)
			.filter((i) => !/^(limit|boost|sensor)\./.test(i.id))
			.map((i) => i.id),
		effectiveFuelPct: all.length ? { min: Math.min(...all), max: Math.max(...all) } : null,
		next
	};
}
