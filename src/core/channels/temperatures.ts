/**
 * The temperatures of one file that carry no unit share one scale: one program writes them. 68 of intake air beside 88 of coolant is °C
 * twice, or °F twice. It is a strong prior and no law: what can't be a temperature in the common scale is read in the other one.
 *
 * Weights are logarithms of likelihoods; their spreads are our own choice.
 */
import { channelKind } from './canonical.ts';
import { fits, forced, LIKELY, type ColumnFacts, type RecogniseContext, type Recognised } from './reading.ts';
import { parseUnit, unitById } from '../units/units.ts';

const SCALES = ['°C', '°F'] as const;
type Scale = (typeof SCALES)[number];

/** Degrees outside of where a warm engine has it that make a scale less likely by a factor of e^½. */
const SPREAD_C = 15;
/** One of fifty files mixes scales. */
const MIXED = Math.log(0.02);
/** Best and runner-up this close: a person has to say (a factor of 3). */
const ASK_WITHIN = Math.log(3);

interface Column {
	at: number;
	/** How likely each scale is for this column by itself; −∞ where its values are no such temperature. */
	weight: Record<Scale, number>;
}

/** Settles in place the scale of all temperatures without a written unit; decisions by hand and written units stay, and count. */
export function settleTemperatures(
	columns: readonly ColumnFacts[],
	found: (Recognised | null)[],
	context: RecogniseContext
): void {
	const open: Column[] = [];
	let written: Record<Scale, number> = { '°C': 0, '°F': 0 };
	found.forEach((r, at) => {
		if (!r || channelKind(r.channel).quantity !== 'temperature') return;
		const said = parseUnit(columns[at]!.unit)?.quantity === 'temperature' || r.source === 'assigned';
		if (said) written = { ...written, [r.unit.id]: 1 };
		else if (LIKELY[r.channel] && Number.isFinite(columns[at]!.median))
			open.push({ at, weight: weights(r.channel, columns[at]!, context) });
	});
	if (open.length < 2 && !written['°C'] && !written['°F']) return;
	/** All in one scale, against what is written in the other. */
	const whole = (s: Scale) =>
		open.reduce((sum, c) => sum + c.weight[s], 0) + (written[s === '°C' ? '°F' : '°C'] ? MIXED : 0);
	/** Each by itself, at the price of a mixed file for each of the fewer. */
	const own = open.map((c) => (c.weight['°C'] >= c.weight['°F'] ? '°C' : '°F') as Scale);
	const inF = own.filter((s) => s === '°F').length;
	const mixed =
		open.reduce((sum, c, i) => sum + c.weight[own[i]!], 0) +
		MIXED * Math.max(1, Math.min(inF, open.length - inF));
	const readings = [
		...SCALES.map((s) => ({ scales: open.map(() => s), weight: whole(s) })),
		{ scales: own, weight: mixed }
	].sort((a, b) => b.weight - a.weight);
	const [best] = readings;
	if (best!.weight === -Infinity) return;
	open.forEach(({ at, weight }, i) => {
		const scale = best!.scales[i]!;
		const rivals = readings.filter((r) => best!.weight - r.weight < ASK_WITHIN && r.scales[i] !== scale);
		const r = found[at]!;
		const reading = forced(r.channel, context, unitById(scale));
		const said =
			weight[scale === '°C' ? '°F' : '°C'] === -Infinity ? 'by its range' : 'like the rest of the file';
		found[at] = {
			...r,
			...reading,
			note: [
				reading.note,
				`no unit given: ${rivals.length ? '°C or °F, taken as' : 'read as'} ${scale} ${said}`
			]
				.filter(Boolean)
				.join('; '),
			undecided: rivals.length
				? {
						readings: [scale, ...rivals.map((o) => o.scales[i]!)].map((s) =>
							span(r.channel, columns[at]!, context, s)
						)
					}
				: null
		};
	});
}

function weights(id: string, facts: ColumnFacts, context: RecogniseContext): Column['weight'] {
	const { low, high } = LIKELY[id]!;
	const of = (s: Scale): number => {
		const { conversion } = forced(id, context, unitById(s));
		if (!fits(channelKind(id), facts, conversion)) return -Infinity;
		const middle = conversion.scale * facts.median + conversion.offset;
		const outside = middle < low ? low - middle : middle > high ? middle - high : 0;
		return -0.5 * (outside / SPREAD_C) ** 2;
	};
	return { '°C': of('°C'), '°F': of('°F') };
}

function span(id: string, facts: ColumnFacts, context: RecogniseContext, s: Scale) {
	const { scale, offset } = forced(id, context, unitById(s)).conversion;
	const to = (v: number) => scale * v + offset;
	return { unit: s, low: to(facts.min), median: to(facts.median), high: to(facts.max) };
}
