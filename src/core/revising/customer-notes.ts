/**
 * What changed in a revision, as a person would tell it to somebody who drives and doesn't calibrate: which way, where in the revs, how
 * much, why. The tuner reads and edits it before it goes out.
 */
import { axisSource } from '../calibration/axes.ts';
import { findItem, type Calibration, type CurveItem, type MapItem } from '../calibration/document.ts';
import { actsOn, baseOf, itemKind, titleOf } from '../calibration/items.ts';
import { STANDARD_KPA } from '../calibration/resample.ts';
import { fixed, list } from '../format.ts';
import { checkOf } from '../screening/codes.ts';
import type { Vehicle } from '../vehicle/document.ts';
import type { DraftEdit } from './edits.ts';
import { placesIn, type Place } from './places.ts';
import type { DraftChange } from './revise.ts';

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
}

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
	const speeds = speedsOf(part);
	const limit = vehicle.engine.revLimitRpm;
	const between = !speeds
		? ''
		: speeds[1] - speeds[0] > limit * 0.7
			? at
				? ''
				: 'nearly everywhere'
			: speeds[0] === speeds[1]
				? `around ${speeds[0]} rpm`
				: `between ${speeds[0]} and ${speeds[1]} rpm`;
	return [at, between].filter(Boolean).join(' ');
}

/** Why, from what was found; what a person wrote by hand follows as it was written. */
function why(
	cells: readonly DraftChange[],
	acts: keyof typeof GIVES | undefined,
	up: boolean
): { because: string; own: string[] } {
	const reasonOf = (code: string) =>
		acts === 'fuel' || acts === 'timing' ? checkOf(code)?.told?.[acts]?.[up ? 'up' : 'down'] : undefined;
	const told = [...new Set(cells.flatMap((c) => c.findings).flatMap((code) => reasonOf(code) ?? []))];
	const own = [
		...new Set(
			cells
				.filter((c) => c.basis === 'hand')
				.map((c) => c.reason.trim())
				.filter(Boolean)
		)
	];
	return { because: told.length ? `, because ${list(told)}` : '', own };
}

function sentence(part: Part, vehicle: Vehicle): string {
	const { item, up, cells } = part;
	const acts = (Object.keys(GIVES) as (keyof typeof GIVES)[]).find((a) => actsOn(item.id, a));
	const { because, own } = why(cells, acts, up);
	const most = cells.reduce((m, c) => Math.max(m, Math.abs(c.to - c.from)), 0);
	const mostPct = cells.reduce((m, c) => Math.max(m, c.from ? Math.abs(c.to / c.from - 1) * 100 : 0), 0);
	// A target mixture below is a richer one.
	const what = actsOn(item.id, 'target')
		? `A ${up ? 'leaner' : 'richer'} mixture is asked for`
		: acts
			? `${up ? 'More' : 'Less'} ${GIVES[acts]}`
			: `${titleOf(item)}: ${up ? 'higher' : 'lower'}`;
	const size =
		acts === 'timing'
			? `, up to ${fixed(most, most < 1 ? 1 : 0)}°`
			: acts === 'fuel' && mostPct > 0
				? `, up to ${fixed(mostPct, mostPct < 1 ? 1 : 0)} %`
				: acts
					? `, up to ${fixed(most, 0)} ${item.unit ?? ''}`.trimEnd()
					: '';
	const place = where(part, vehicle);
	return [
		`${what}${place ? ` ${place}` : ''}${size}${because}.`,
		...own.map((o) => (/[.!?]$/.test(o) ? o : `${o}.`))
	].join(' ');
}

function scalarSentence(calibration: Calibration, c: DraftChange): string {
	const item = findItem(calibration, c.item);
	const acts = (['fuel', 'timing'] as const).find((a) => actsOn(c.item, a));
	const { own } = why([c], acts, c.to > c.from);
	const unit = item && 'unit' in item && item.unit ? ` ${item.unit}` : '';
	const text =
		acts && itemKind(c.item)?.direction
			? `${c.to > c.from ? 'More' : 'Less'} ${GIVES[acts]} everywhere.`
			: `${titleOf(item ?? { id: c.item })}: now ${c.to}${unit}.`;
	return [text, ...own.map((o) => (/[.!?]$/.test(o) ? o : `${o}.`))].join(' ');
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
		const part = parts.get(key) ?? { item, up, cells: [] };
		part.cells.push(c);
		parts.set(key, part);
	}
	return [
		...[...parts.values()].map((p) => sentence(p, vehicle)),
		...lines,
		...edits.map((e) => {
			const title = titleOf(findItem(calibration, e.item) ?? { id: e.item });
			const said = e.kind === 'setting' ? `now ${String(e.to)}` : e.kind === 'axes' ? 'on other axes' : 'new';
			return `${title}: ${said}. ${e.reason.trim()}`.trim();
		})
	].join('\n');
}
