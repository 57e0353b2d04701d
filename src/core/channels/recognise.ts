/**
 * Which canonical channel a raw column is: by its name, its unit and the range of its values together.
 * A name that the range contradicts is not believed.
 */
import { CHANNELS } from './canonical.ts';
import { settleTogether } from './joint.ts';
import { settleTemperatures } from './temperatures.ts';
import type { Moments } from './scene.ts';
import { candidatesByName, isPrivate } from './names.ts';
import {
	inCanonicalUnit,
	type ColumnFacts,
	type RecogniseContext,
	type Recognised,
	readAs
} from './reading.ts';

/** A decision made by hand, remembered for the customer's later exports. */
export interface Assignment {
	/** Canonical id, or `null` to leave the column out. */
	channel: string | null;
	/** Unit id, or `null` to infer it. */
	unit: string | null;
}

/** Units that speak for a system; pressures in kPa or psi stand in files of either kind and speak for none. */
const SPEAKS = { metric: new Set(['°C', 'km/h']), imperial: new Set(['°F', 'mph']) };
const METRIC = new Set(['°C', 'km/h', 'kPa']);
const IMPERIAL = new Set(['°F', 'mph', 'psi']);

/** One program writes one system of units: what a column leaves open is read like the columns of the file that leave nothing open. */
function decideBySystem(
	columns: readonly ColumnFacts[],
	found: (Recognised | null)[],
	context: RecogniseContext
): void {
	let metric = 0;
	let imperial = 0;
	for (const r of found) {
		if (!r || r.undecided || r.unit.afr || r.channel === 'speed') continue;
		if (SPEAKS.metric.has(r.unit.id)) metric++;
		else if (SPEAKS.imperial.has(r.unit.id)) imperial++;
	}
	// One column of the other system is enough to leave it open.
	const system = imperial === 0 && metric > 0 ? METRIC : metric === 0 && imperial > 0 ? IMPERIAL : null;
	if (!system) return;
	found.forEach((r, i) => {
		const reading = r?.undecided?.readings.find((o) => system.has(o.unit));
		if (!r || !reading) return;
		const forced = readAs(r.channel, columns[i]!, context, reading.unit)!;
		found[i] = {
			...r,
			...forced,
			note: [forced.note, `no unit given: read as ${reading.unit} like the rest of the file`]
				.filter(Boolean)
				.join('; ')
		};
	});
}

/**
 * Recognises all columns together: every canonical channel goes to at most one column, the best match first.
 * @param remembered decisions by raw name and unit (`assignmentKey`), which win over recognition
 * @param moments values of the columns at the same moments, where their readings are to vouch for each other
 * @returns one entry per column, `null` where nothing fits
 */
export function recogniseColumns(
	columns: readonly ColumnFacts[],
	context: RecogniseContext,
	remembered: ReadonlyMap<string, Assignment> = new Map(),
	moments: Moments | null = null
): (Recognised | null)[] {
	const result: (Recognised | null)[] = columns.map(() => null);
	const taken = new Set<string>();
	const decided = new Set<number>();
	columns.forEach((facts, i) => {
		const byHand = remembered.get(assignmentKey(facts.name, facts.unit));
		if (!byHand) return;
		decided.add(i);
		if (byHand.channel === null || taken.has(byHand.channel)) return;
		const reading =
			readAs(byHand.channel, facts, context, byHand.unit) ??
			readAs(byHand.channel, { ...facts, unit: '' }, context);
		if (!reading) return;
		taken.add(byHand.channel);
		result[i] = { ...reading, source: 'assigned', score: Infinity };
	});
	const options: { column: number; reading: Recognised }[] = [];
	columns.forEach((facts, i) => {
		if (decided.has(i) || isPrivate(facts.name)) return;
		for (const { id, score } of candidatesByName(facts.name)) {
			if (facts.textShare > 0.5 && CHANNELS.get(id)?.quantity !== 'text' && id !== 'time') continue;
			const reading = readAs(id, facts, context);
			if (reading) options.push({ column: i, reading: { ...reading, source: 'recognised', score } });
		}
	});
	// What Tanto writes reads back as it was: headers that are all canonical ids mean canonical units, whatever the numbers look like.
	const own = columns.length > 0 && columns.every((c) => CHANNELS.has(c.name.trim()));
	if (own)
		for (const o of options) {
			const canonical = inCanonicalUnit(o.reading.channel, columns[o.column]!, context);
			if (canonical) o.reading = { ...o.reading, ...canonical };
		}
	options.sort((a, b) => b.reading.score - a.reading.score || a.column - b.column);
	for (const { column, reading } of options) {
		if (result[column] || taken.has(reading.channel)) continue;
		result[column] = reading;
		taken.add(reading.channel);
	}
	if (own) return result;
	settleTemperatures(columns, result, context);
	decideBySystem(columns, result, context);
	if (moments) settleTogether(columns, result, moments, context);
	return result;
}

/** Under what a decision by hand is remembered: the same name with the same unit in a later export. */
export function assignmentKey(name: string, unit: string): string {
	return `${name.trim()}|${unit.trim()}`;
}
