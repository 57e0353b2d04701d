/**
 * What changed in a revision, as a person would tell it to somebody who drives and doesn't calibrate: which way, where in the revs, how
 * much, why. The tuner reads and edits it before it goes out; the reasons in the record are written for tuners and never stand in it.
 */
import { axisSource } from '../calibration/axes.ts';
import type { Calibration, CurveItem, MapItem } from '../calibration/document.ts';
import { findItem } from '../calibration/lookup.ts';
import { actsOn, baseOf, itemKind, titleOf } from '../calibration/items.ts';
import { STANDARD_KPA } from '../calibration/resample.ts';
import { fixed, list } from '../format.ts';
import { checkOf } from '../screening/codes.ts';
import type { Vehicle } from '../vehicle/document.ts';
import type { DraftEdit } from './edit-schema.ts';
import { placesIn, type Place } from './places.ts';
import type { DraftChange } from './edit-schema.ts';

/** What an item gives, by what it acts on; its title stands for anything else. */
const GIVES = { fuel: 'fuel', timing: 'timing', boost: 'boost' } as const;

const AT: Readonly<Record<Place, string>> = {
	idle: 'at idle',
	cruise: 'at cruise',
	part: 'at part throttle',
	onset: 'where the boost comes in',
	low: 'at full throttle',
	middle: 'at full throttle',
	top: 'at full throttle'
};
const FULL: readonly Place[] = ['low', 'middle', 'top'];

interface Part {
	item: MapItem | CurveItem;
	up: boolean;
	cells: DraftChange[];
	/** Cells that the tables of this kind have in all. */
	of: number;
}

/** How many cells a table has, with the other members of its blend. */
const sizeOfTables = (calibration: Calibration, id: string): number =>
	calibration.items
		.filter((i) => baseOf(i.id) === baseOf(id))
		.reduce((n, i) => n + (i.kind === 'map' || i.kind === 'curve' ? i.values.flat().length : 0), 0);

/** Engine speeds of cells, rounded as they would be said; `null` where the table isn't read by engine speed. */
function speedsOf({ item, cells }: Part): [number, number] | null {
	const along =
		axisSource(item.x) === 'rpm' ? 'x' : item.kind === 'map' && axisSource(item.y) === 'rpm' ? 'y' : null;
	if (!along) return null;
	const all = cells.map((c) => c[along]);
	return [Math.min(...all), Math.max(...all)];
}

function where(part: Part, vehicle: Vehicle): string {
	const of = placesIn(part.item, vehicle, vehicle.baselines?.ambientPressureKpa ?? STANDARD_KPA);
	const places = of ? new Set(part.cells.map(of)) : null;
	const at = places
		? places.size > 3 && ![...places].every((p) => FULL.includes(p))
			? ''
			: list([...new Set([...places].map((p) => AT[p]))])
		: '';
	return [at, between(speedsOf(part), vehicle.engine.revLimitRpm)].filter(Boolean).join(' ');
}

/** Where in the revs, as one would say it. */
function between(speeds: [number, number] | null, limit: number): string {
	if (!speeds) return '';
	const [from, to] = speeds;
	if (from === to) return `around ${from} rpm`;
	if (from >= limit * 0.5 && to >= limit * 0.85)
		return `in the upper part of the rev range, from ${from} rpm on`;
	if (to <= limit * 0.5) return `in the lower part of the rev range, up to ${to} rpm`;
	return `between ${from} and ${to} rpm`;
}

/** Why, from what was found. What a tuner wrote as a reason stays in the workshop. */
function why(cells: readonly DraftChange[], acts: keyof typeof GIVES | undefined, up: boolean): string {
	const reasonOf = (code: string) =>
		acts === 'fuel' || acts === 'timing' ? checkOf(code)?.told?.[acts]?.[up ? 'up' : 'down'] : undefined;
	const told = [...new Set(cells.flatMap((c) => c.findings).flatMap((code) => reasonOf(code) ?? []))];
	return told.length ? `, because ${list(told)}` : '';
}

/** A change as it was made: one figure where all cells have it, else how far it goes. */
function sizeOf(amounts: readonly number[], unit: string): string {
	const most = Math.max(...amounts);
	const said = (v: number) => String(Number(fixed(v, 1)));
	if (said(most) === '0') return '';
	return `${said(Math.min(...amounts)) === said(most) ? ' by' : ', up to'} ${said(most)}${unit}`;
}

function sentence(part: Part, vehicle: Vehicle): string {
	const { item, up, cells } = part;
	const acts = (Object.keys(GIVES) as (keyof typeof GIVES)[]).find((a) => actsOn(item.id, a));
	const because = why(cells, acts, up);
	// A target mixture below is a richer one.
	const what = actsOn(item.id, 'target')
		? `A ${up ? 'leaner' : 'richer'} mixture is asked for`
		: acts
			? `${up ? 'More' : 'Less'} ${GIVES[acts]}`
			: `${titleOf(item)}: ${up ? 'higher' : 'lower'}`;
	const size = acts
		? acts === 'fuel'
			? sizeOf(
					cells.map((c) => (c.from ? Math.abs(c.to / c.from - 1) * 100 : 0)),
					' %'
				)
			: sizeOf(
					cells.map((c) => Math.abs(c.to - c.from)),
					acts === 'timing' ? '°' : ` ${item.unit ?? ''}`.trimEnd()
				)
		: '';
	const place = where(part, vehicle);
	const share =
		part.of > 1 ? ` (${cells.length} of ${part.of} ${item.kind === 'map' ? 'cells' : 'points'})` : '';
	return `${what}${place ? ` ${place}` : ''}${share}${size}${because}.`;
}

function scalarSentence(calibration: Calibration, c: DraftChange): string {
	const item = findItem(calibration, c.item);
	const acts = (['fuel', 'timing'] as const).find((a) => actsOn(c.item, a));
	const unit = item && 'unit' in item && item.unit ? ` ${item.unit}` : '';
	return acts && itemKind(c.item)?.direction
		? `${c.to > c.from ? 'More' : 'Less'} ${GIVES[acts]} everywhere.`
		: `${titleOf(item ?? { id: c.item })}: now ${c.to}${unit}.`;
}

/**
 * One line a change of one kind.
 * @example customerNotes(changes, [], calibration, vehicle) // "Less timing at full throttle between 3500 and 5000 rpm, up to 2°, because it knocked there."
 */
export function customerNotes(
	changes: readonly DraftChange[],
	edits: readonly DraftEdit[],
	calibration: Calibration,
	vehicle: Vehicle
): string {
	const parts = new Map<string, Part>();
	const lines: string[] = [];
	for (const c of changes) {
		const item = findItem(calibration, c.item);
		if (item?.kind !== 'map' && item?.kind !== 'curve') {
			lines.push(scalarSentence(calibration, c));
			continue;
		}
		const up = c.to > c.from;
		// Members of a blend say the same, once.
		const key = `${baseOf(item.id)} ${up}`;
		const part = parts.get(key) ?? { item, up, cells: [], of: sizeOfTables(calibration, item.id) };
		part.cells.push(c);
		parts.set(key, part);
	}
	return [
		...[...parts.values()].map((p) => sentence(p, vehicle)),
		...lines,
		...edits.map((e) => {
			const title = titleOf(findItem(calibration, e.item) ?? { id: e.item });
			const said = e.kind === 'setting' ? `now ${String(e.to)}` : e.kind === 'axes' ? 'on other axes' : 'new';
			return `${title}: ${said}.`;
		})
	].join('\n');
}
