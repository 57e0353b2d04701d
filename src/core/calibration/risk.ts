/** Which direction of a change is safer for the engine, and how much of it is which: by what is known of the item. */
import { fixed, plural } from '../format.ts';
import { isOn } from './lookup.ts';
import { itemConversion } from './item-units.ts';
import { itemKind, type ItemKind, type Size } from './items.ts';

export type ChangeClass = 'safer' | 'riskier' | 'neutral' | 'unknown';

export interface Judged {
	class: ChangeClass;
	/** What the change is, in words, with both shares where it goes both ways. */
	rule: string;
}

type Plain = string | number | boolean;

const sized = (v: number, { digits, unit }: Size, sign: string) =>
	`${sign}${fixed(v, digits)}${unit === '°' ? '' : ' '}${unit}`;

/**
 * Class of the change of item `id`. Differences under the item's tolerance decide nothing.
 * @param deltas new − old of every cell, in the item's unit; empty when the values are no numbers
 * @param unit of the values, where the document keeps another than the item's own
 * @param olds the old values of the same cells, for items whose differences count in percent
 * @example classify('spark.table', [1, 0, -0.02]) // riskier: "1 cell timing added, up to +1.0°; 1 cell timing taken out, at most −0.0°"
 */
export function classify(
	id: string,
	deltas: readonly number[],
	{
		olds,
		from,
		to,
		unit
	}: { olds?: readonly number[]; from?: Plain; to?: Plain; unit?: string | undefined } = {}
): Judged {
	const kind = itemKind(id);
	if (kind?.onOff) return switched(kind.onOff, from, to);
	if (kind?.neutral) return { class: 'neutral', rule: kind.neutral };
	if (!kind?.direction || deltas.length === 0)
		return { class: 'unknown', rule: 'no rule tells which direction is safer' };
	const { tolerance, riskier } = kind.direction;
	// Sizes are told in the unit of the item; a difference has no offset.
	const { scale } = itemConversion({ id, unit }, 0);
	const sizes = deltas.map((d, i) =>
		tolerance.relative && olds?.[i] ? (100 * d) / Math.abs(olds[i]!) : d * scale
	);
	const ups = sizes.filter((d) => d > 0);
	const downs = sizes.filter((d) => d < 0);
	if (ups.length + downs.length === 0) return { class: 'neutral', rule: 'nothing changed in value' };
	const most = ups.reduce((m, d) => Math.max(m, d), 0);
	const least = -downs.reduce((m, d) => Math.min(m, d), 0);
	const counts = (v: number) => v > tolerance.by;
	const [risky, safe] = riskier === 'up' ? [most, least] : [least, most];
	return {
		class: counts(risky) ? 'riskier' : counts(safe) ? 'safer' : 'neutral',
		rule: inWords(kind.direction, deltas.length, { ups: ups.length, most, downs: downs.length, least })
	};
}

function switched(words: NonNullable<ItemKind['onOff']>, from?: Plain, to?: Plain): Judged {
	const on = (v: Plain | undefined) => v !== undefined && isOn(v);
	if (from !== undefined && to !== undefined && on(from) === on(to))
		return { class: 'neutral', rule: 'the same, written differently' };
	return on(to)
		? { class: 'safer', rule: words.on }
		: { class: 'riskier', rule: on(from) ? words.off : words.stillOff };
}

/** Both shares of a change: "118 cells more fuel, up to +11.7 %; 6 cells less, at most −0.1 %". A single value has no cells to count. */
function inWords(
	{ up, down, tolerance }: NonNullable<ItemKind['direction']>,
	cells: number,
	{ ups, most, downs, least }: { ups: number; most: number; downs: number; least: number }
): string {
	if (cells === 1) return ups ? up : down;
	const share = (n: number, word: string, size: string, whole: boolean) =>
		n ? [`${plural(n, 'cell')} ${word}, ${whole ? 'up to' : 'at most'} ${size}`] : [];
	return [
		...share(ups, up, sized(most, tolerance, '+'), most >= least),
		...share(downs, down, sized(least, tolerance, '−'), least > most)
	].join('; ');
}
