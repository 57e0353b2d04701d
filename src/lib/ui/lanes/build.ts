/** From channels to lanes: which quantity stands together, in the reader's units, with the earlier run behind it. */
import { channelKind } from '$core/channels/canonical';
import { uncapital } from '$core/format';
import { CANONICAL_UNIT } from '$core/units/units';
import type { Profile } from '$core/limits/profile';
import type { TraceWindow } from '$core/logfile/pyramid';
import type { Report } from '$core/screening/report';
import type { Shown } from '$core/screening/sections';
import type { Preferences } from '../preferences.svelte';
import { GROUPS, type Group } from './questions';
import type { Lane, Series } from './types';

export interface PickedGroup extends Group {
	id: string;
}

/** Canonical unit of a channel. */
export const unitOf = (id: string): string => CANONICAL_UNIT[channelKind(id).quantity];

/** Smallest span of a lane of its own, by canonical unit. */
const MIN_SPAN: Record<string, number> = { '%': 10, kPa: 20, '°C': 10, rpm: 500, λ: 0.08, '°': 5, V: 1 };

/** Lanes for channels chosen by hand: those that belong together in one, the others each in a lane of its own. */
export function groupsFor(ids: readonly string[]): PickedGroup[] {
	const out: PickedGroup[] = [];
	for (const id of ids) {
		const home = Object.entries(GROUPS).find(([, g]) => g.ids.includes(id));
		const key = home?.[0] ?? id;
		const there = out.find((g) => g.id === key);
		if (there) there.ids.push(id);
		else if (home) out.push({ ...home[1], id: key, ids: [id] });
		else {
			const unit = unitOf(id);
			out.push({ id, title: channelKind(id).title, unit, ids: [id], minSpan: MIN_SPAN[unit] ?? 1 });
		}
	}
	return out;
}

const TONES: Series['tone'][] = ['second', 'third', 'first'];

/** A bank keeps its colour through all lanes, whichever of its channels are shown. */
function bankTone(id: string): Series['tone'] | null {
	return id.endsWith('.b1') ? 'second' : id.endsWith('.b2') ? 'third' : null;
}

/**
 * @param earlier traces of an earlier log, already moved onto this one's time; its name, of which revision and day are shown
 * @param limits limits of a finding by lane id
 */
/** Names of the lines of one lane without the word that they all begin with: "Lambda bank 1", "Lambda target" are bank 1 and target. */
export function shortNames(titles: readonly string[]): string[] {
	const first = titles[0]?.split(' ')[0];
	const common = titles.length > 1 && titles.every((t) => t.startsWith(`${first} `));
	return titles.map((t) => (common ? t.slice(first!.length + 1) : uncapital(t)));
}

export function buildLanes(
	groups: readonly PickedGroup[],
	data: Readonly<Record<string, TraceWindow>>,
	earlier: { name: string; traces: Readonly<Record<string, TraceWindow>> },
	preferences: Preferences,
	stoich: number,
	limits: (lane: string) => Pick<Lane, 'limit'>
): Lane[] {
	return groups.map((g): Lane => {
		const unit = preferences.shown(1, g.unit, stoich);
		const scale = (v: number | null) => (v === null ? null : preferences.shown(v, g.unit, stoich).value);
		const series = (id: string, w: TraceWindow, tone: Series['tone'], label: string): Series => ({
			id,
			label,
			x: w.timeS,
			y: w.min.map(scale),
			yMax: w.max ? w.max.map(scale) : null,
			tone,
			dashed: g.dashed?.includes(id) ?? false
		});
		const free = TONES.filter((t) => !g.ids.some((id) => bankTone(id) === t));
		let tone = 0;
		const there = g.ids.filter((id) => data[id]);
		const names = shortNames(there.map((id) => channelKind(id).title));
		return {
			id: g.id,
			title: g.title,
			unit: unit.unit,
			decimals: unit.decimals,
			minSpan: Math.abs(
				preferences.shown(g.minSpan, g.unit, stoich).value - preferences.shown(0, g.unit, stoich).value
			),
			...(g.floor === undefined ? {} : { floor: g.floor }),
			...(g.ceiling === undefined ? {} : { ceiling: preferences.shown(g.ceiling, g.unit, stoich).value }),
			...limits(g.id),
			series: [
				// Behind everything else, so that the run in question stays in front.
				...g.ids.flatMap((id) => {
					const trace = earlier.traces[id];
					return trace ? [series(id, trace, 'old', earlier.name.split(',').slice(0, 2).join(','))] : [];
				}),
				...g.ids.flatMap((id) => {
					const mine =
						bankTone(id) ??
						(g.dashed?.includes(id) || g.ids.length === 1 ? 'first' : free[tone++ % free.length]!);
					return data[id] ? [series(id, data[id], mine, g.names?.[id] ?? names[there.indexOf(id)]!)] : [];
				})
			]
		};
	});
}

/** The finding's limit, where it is a level of the lane's own quantity. */
export function limitOf(
	lane: string,
	about: {
		finding: Report['findings'][number] | null;
		shown: Shown | null;
		profile: Profile;
		preferences: Preferences;
		stoich: number;
	}
): Pick<Lane, 'limit'> {
	const { finding, shown, profile, preferences, stoich } = about;
	if (!finding) return {};
	if (lane === 'knock' && shown?.lane === 'knock' && finding.limit !== undefined)
		return { limit: { from: finding.limit, side: 'above', label: `limit ${finding.limit}°` } };
	if (lane === 'mixture' && shown?.drawn === 'lambdaLeanBoosted') {
		const { lambdaLeanBoosted } = profile;
		return {
			limit: {
				from: preferences.shown(lambdaLeanBoosted, 'λ', stoich).value,
				side: 'above',
				label: `leanest under boost ${preferences.text(lambdaLeanBoosted, 'λ', stoich)}`
			}
		};
	}
	return {};
}
