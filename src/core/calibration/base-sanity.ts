/**
 * Sanity of a calibration as it came: what in it stands apart from the workshop's own calibrations of like engines, and what contradicts the
 * vehicle. Questions to ask before the first log, never changes.
 */
import { max, median, min } from 'd3-array';
import { fixed } from '../format.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { turner } from './axes.ts';
import { absolute } from './canonical.ts';
import type { Calibration, MapItem } from './document.ts';
import { findCurve, findItem, findMap, membersOf } from './lookup.ts';
import { Surface } from './grid.ts';
import { titleOf } from './items.ts';
import { STANDARD_KPA } from './resample.ts';

/** A calibration of the workshop's own, with whose it is. */
export interface LikeEngine {
	name: string;
	vehicle: Vehicle;
	calibration: Calibration;
}

export interface Oddity {
	item: string;
	title: string;
	/** What stands out, with the numbers; its quantities are in canonical units. */
	why: string;
	/** Whose calibration it was held against; empty where the vehicle itself contradicts it. */
	against: string;
}

/** From so many like engines on a difference says something. */
export const LEAST_LIKE = 3;
const DISPLACEMENT_SHARE = 0.2;
/** Own choices: more timing than any of them, and a leaner target under load. */
const TIMING_DEG = 7;
const TARGET = 0.02;
/** Under load: from here up, as a share of ambient pressure. */
const LOADED_FROM_KPA = 80;

/** Same fuel model, air, cylinders, and displacement within a fifth. */
export function isLike(
	a: Pick<LikeEngine, 'vehicle' | 'calibration'>,
	b: Pick<LikeEngine, 'vehicle' | 'calibration'>
): boolean {
	const [e, o] = [a.vehicle.engine, b.vehicle.engine];
	const near =
		e.displacementL === undefined ||
		o.displacementL === undefined ||
		Math.abs(e.displacementL - o.displacementL) <= DISPLACEMENT_SHARE * e.displacementL;
	return (
		a.calibration.fuelModel === b.calibration.fuelModel &&
		e.aspiration === o.aspiration &&
		e.cylinders === o.cylinders &&
		near
	);
}

/**
 * @param workshop calibrations that are in use elsewhere in the workshop, of any engine
 * @returns at most one oddity an item, in the order of the document
 */
export function oddities(
	base: Calibration,
	vehicle: Vehicle,
	workshop: readonly LikeEngine[]
): { found: Oddity[]; like: string[] } {
	const like = workshop.filter((w) => isLike({ vehicle, calibration: base }, w));
	// One day's air for all of them, turned once.
	const turned = (l: LikeEngine) => ({ ...l, calibration: absolute(l.calibration, STANDARD_KPA) });
	const known = like.length >= LEAST_LIKE ? like.map(turned) : [];
	const own = absolute(base, STANDARD_KPA);
	const found = [
		...surfaces(own, 'spark.table', known, (v, others) => {
			const most = max(others)!;
			return v - most >= TIMING_DEG
				? { by: v - most, why: `${fixed(v - most, 1)}° more timing than the most advanced of them` }
				: null;
		}),
		...surfaces(own, 'lambda.target', known, (v, others) => {
			const leanest = max(others)!;
			return v - leanest >= TARGET
				? {
						by: v - leanest,
						why: `a target of λ ${fixed(v, 3)}, leaner than the leanest of them (λ ${fixed(leanest, 3)})`
					}
				: null;
		}),
		...deadTime(base, known),
		...contradictions(base, vehicle)
	];
	return { found, like: like.map((l) => l.name) };
}

type Judged = { by: number; why: string } | null;

/** Worst loaded place of a table against the same place in the others; tables of other channels aren't compared. */
function surfaces(
	own: Calibration,
	id: string,
	like: readonly LikeEngine[],
	judge: (v: number, others: number[]) => Judged
): Oddity[] {
	if (like.length < LEAST_LIKE) return [];
	return membersOf(own, id).flatMap((member): Oddity[] => {
		const table = findMap(own, member);
		if (!table) return [];
		const readers = like.flatMap((l) => {
			const other = findMap(l.calibration, id);
			const read = other && readerOf(other, table);
			return read ? [{ name: l.name, read }] : [];
		});
		const toKpa = turner(table.y, { channel: 'map' }, STANDARD_KPA);
		if (readers.length < LEAST_LIKE || !toKpa) return [];
		let worst: { by: number; why: string; x: number; y: number } | null = null;
		table.y.points.forEach((y, r) => {
			if (toKpa(y) < LOADED_FROM_KPA) return;
			table.x.points.forEach((x, c) => {
				const others = readers.flatMap((l) => l.read(x, y) ?? []);
				const judged = others.length >= LEAST_LIKE ? judge(table.values[r]![c]!, others) : null;
				if (judged && judged.by > (worst?.by ?? 0)) worst = { ...judged, x, y };
			});
		});
		const w = worst as { why: string; x: number; y: number } | null;
		return w
			? [
					{
						item: member,
						title: titleOf(table),
						why: `${w.why}, at ${fixed(w.x, 0)} rpm / ${fixed(w.y, 0)}`,
						against: names(readers.map((l) => l.name))
					}
				]
			: [];
	});
}

/** Reads a table at places of another one; `null` where their axes are of other channels. Nothing is read beyond its ends. */
function readerOf(other: MapItem, like: MapItem): ((x: number, y: number) => number | null) | null {
	if (other.x.channel !== like.x.channel || other.y.channel !== like.y.channel) return null;
	const surface = new Surface(other.x.points, other.y.points, other.values);
	const within = (points: readonly number[], v: number) => v >= min(points)! && v <= max(points)!;
	return (x, y) => (within(other.x.points, x) && within(other.y.points, y) ? surface.at(x, y) : null);
}

function deadTime(base: Calibration, like: readonly LikeEngine[]): Oddity[] {
	const curve = findCurve(base, 'injector.deadTime');
	if (!curve) return [];
	const title = titleOf(curve);
	const least = min(curve.values)!;
	if (least <= 0)
		return [
			{
				item: curve.id,
				title,
				why: 'a dead time of zero: no injector opens at once, and idle and cruise carry the error',
				against: ''
			}
		];
	const others = like.flatMap((l) => {
		const c = findCurve(l.calibration, 'injector.deadTime');
		return c ? [median(c.values)!] : [];
	});
	const own = median(curve.values)!;
	return others.length >= LEAST_LIKE && (own < 0.5 * min(others)! || own > 2 * max(others)!)
		? [
				{
					item: curve.id,
					title,
					why: `${fixed(own, 2)} ms in the middle, against ${fixed(min(others)!, 2)} to ${fixed(max(others)!, 2)} ms of them`,
					against: names(like.map((l) => l.name))
				}
			]
		: [];
}

/** What the vehicle itself contradicts: an input or a target that was left over from another engine. */
function contradictions(base: Calibration, vehicle: Vehicle): Oddity[] {
	const out: Oddity[] = [];
	const add = (item: string, why: string) => {
		const found = findItem(base, item);
		if (found) out.push({ item, title: titleOf(found), why, against: '' });
	};
	if (vehicle.engine.aspiration === 'na') {
		add('boost.target', 'a boost target in an engine without a charger');
		for (const i of base.items)
			if (i.kind === 'setting' && /second|boost|charge/i.test(`${i.id} ${i.title ?? ''}`) && isSet(i.value))
				add(i.id, 'an input for boost in an engine without a charger: left over from another one?');
	}
	const lambda = findItem(base, 'sensor.lambda');
	const wide = vehicle.sensors?.lambda?.some((s) => s.kind !== 'narrowband') ?? false;
	if (lambda?.kind === 'setting' && wide && /narrow/i.test(String(lambda.value)))
		add('sensor.lambda', 'a narrowband input is configured, and a wideband sensor is fitted');
	const enabled = findItem(base, 'knock.enabled');
	if (enabled?.kind === 'setting' && /^(false|off|no|0)$/i.test(String(enabled.value).trim()))
		add('knock.enabled', 'knock control is switched off: find out why before the first pull');
	return out;
}

const isSet = (value: unknown): boolean => !/^(|none|off|no|false|0|-)$/i.test(String(value).trim());

const names = (list: readonly string[]): string => [...new Set(list)].slice(0, 4).join(', ');
