/**
 * What Tanto knows of each item of a calibration: what it is and what moves with it, which way is riskier and from how much on, what a
 * difference makes incomparable, how steep it may be, how its outcome is measured, and the words for all that. The items stand in
 * `known/`; comparison, holds, cliffs, outcome, notes and the interface ask here. Members of a blend (`fuel.table@105`) follow their item.
 */
import type { Acts, Guarding, ItemKind } from './item-kind.ts';
import { FUEL_ITEMS } from './known/fuel.ts';
import { OTHER_ITEMS } from './known/other.ts';
import { TIMING_ITEMS } from './known/timing.ts';
import { INJECTOR_CAUTION, SENSOR_CAUTION } from './known/words.ts';

export type { Acts, ItemKind, Measured, Size } from './item-kind.ts';

export const ITEMS = [...FUEL_ITEMS, ...TIMING_ITEMS, ...OTHER_ITEMS] as const satisfies readonly ItemKind[];

export type ItemId = (typeof ITEMS)[number]['id'];

const BY_ID = new Map<string, ItemKind>(ITEMS.map((i) => [i.id, i]));

/** The item that a member of a blend stands for: `fuel.table` of `fuel.table@105`. */
export const baseOf = (id: string): string => id.split('@', 1)[0]!;

/** What is known of an item, or of the item that it blends into; `null` for one that nobody knows. */
export const itemKind = (id: string): ItemKind | null => BY_ID.get(baseOf(id)) ?? null;

/** Items that nobody knows, by how they are called: what they act on, what another value makes incomparable, what is said to it. */
interface Family {
	match: RegExp;
	acts: Acts;
	guard?: Guarding;
	caution?: ItemKind['caution'];
}
const FAMILIES: readonly Family[] = [
	{ match: /^fuel\./, acts: 'fuel' },
	{ match: /^spark\./, acts: 'timing' },
	{ match: /^boost\./, acts: 'boost' },
	{ match: /^limit\./, acts: 'protection' },
	{ match: /^knock\./, acts: 'knock' },
	{ match: /^injector\./, acts: 'injector', caution: INJECTOR_CAUTION },
	{ match: /^trigger\./, acts: 'trigger', caution: SENSOR_CAUTION },
	{
		match: /^sensor\./,
		acts: 'sensor',
		guard: { why: 'a sensor is scaled differently', affects: { items: ['fuel.table', 'spark.table'] } },
		caution: SENSOR_CAUTION
	},
	{
		match: /displacement/i,
		acts: 'sensor',
		guard: {
			why: 'the displacement differs: the same share of filling is another amount of air',
			affects: { items: ['fuel.table', 'spark.table', 'lambda.target'] }
		}
	}
];

const familyOf = (id: string): Family | undefined => FAMILIES.find((f) => f.match.test(id));

/** Whether an item acts on one of these; one that nobody knows goes by how it is called. */
export function actsOn(id: string, ...acts: readonly Acts[]): boolean {
	const own = itemKind(id)?.acts ?? familyOf(id)?.acts;
	return own !== undefined && acts.includes(own);
}

/** What another value of an item makes incomparable; `null` where nothing. */
export function guardOf(id: string): { why: string; affects: (id: string) => boolean } | null {
	const guard = (itemKind(id) ?? familyOf(id))?.guard;
	if (!guard) return null;
	const { acts = [], items = [] } = guard.affects;
	return { why: guard.why, affects: (other) => actsOn(other, ...acts) || items.includes(baseOf(other)) };
}

/** What the customer is told when an item changed; `null` where nothing. */
export const cautionOf = (id: string): ItemKind['caution'] | null =>
	(itemKind(id) ?? familyOf(id))?.caution ?? null;

/** What an item is called: its own title, else the known one, with the member of a blend behind it. */
export function titleOf(item: { id: string; title?: string | undefined }): string {
	if (item.title) return item.title;
	const known = itemKind(item.id)?.title;
	if (!known) return item.id;
	const member = item.id.slice(baseOf(item.id).length + 1);
	return member ? `${known} (${member})` : known;
}

/** Ids of the curves that are read along a log and added there. */
export const adjusting = (what: 'fuel' | 'timing'): ItemId[] =>
	ITEMS.filter((i: ItemKind) => i.adjusts === what).map((i) => i.id);
