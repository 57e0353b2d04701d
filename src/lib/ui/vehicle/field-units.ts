/** Fields of the build sheet in the reader's units. The document keeps kPa and °C; only what stands in the field is turned. */
import { fixed } from '$core/format';
import { convert } from '$core/units/units';
import type { UnitChoice } from '$core/units/display';
import type { Field } from '$core/vehicle/fields';

interface Turn {
	/** How the unit reads for this reader, alone or as the second of a pair. */
	unit: string;
	out: (v: number) => number;
	back: (v: number) => number;
}

const DECIMALS: Record<string, number> = { kPa: 2, psi: 2, bar: 4, '°C': 1, '°F': 1 };
/** Of what is turned back: enough that a value of the reader's unit comes out as it went in. */
const CANONICAL_DECIMALS = 3;

const ownUnit = (field: Field) => field.unit?.split(':').at(-1);

/** Whether there are readers for whom the field reads differently. */
export const turns = (field: Field): boolean => ['kPa', '°C'].includes(ownUnit(field) ?? '');

/** How a field is turned for this reader; null where nothing is to be turned. */
function turnOf(field: Field, choice: UnitChoice): Turn | null {
	const own = ownUnit(field);
	const to = own === 'kPa' ? choice.pressure : own === '°C' ? choice.temperature : null;
	if (!own || !to || to === own) return null;
	return { unit: to, out: (v) => convert(v, own, to), back: (v) => convert(v, to, own) };
}

/** Turns the numbers of a field's text: the number, each of a list, the second of each pair. What is no number stays as it is. */
function turned(text: string, field: Field, turn: (v: number) => number, decimals: number): string {
	const write = (token: string) => String(Number(fixed(turn(Number(token)), decimals)));
	if (field.kind === 'number') {
		const token = text.trim().replace(',', '.');
		return token !== '' && Number.isFinite(Number(token)) ? write(token) : text;
	}
	const pattern = field.kind === 'pairs' ? /(?<=:\s*)-?\d+(?:\.\d+)?/g : /-?\d+(?:\.\d+)?/g;
	return text.replace(pattern, write);
}

/** @example fieldUnit({ unit: 'rpm:kPa', … }, inPsi) // "rpm:psi" */
export const fieldUnit = (field: Field, choice: UnitChoice): string => {
	const turn = turnOf(field, choice);
	return turn ? [...field.unit!.split(':').slice(0, -1), turn.unit].join(':') : (field.unit ?? '');
};

/** The document's text as this reader writes it. */
export function fieldText(text: string, field: Field, choice: UnitChoice): string {
	const turn = turnOf(field, choice);
	return turn ? turned(text, field, turn.out, DECIMALS[turn.unit] ?? 2) : text;
}

/** What a reader wrote as the document's text. */
export function documentText(text: string, field: Field, choice: UnitChoice): string {
	const turn = turnOf(field, choice);
	return turn ? turned(text, field, turn.back, CANONICAL_DECIMALS) : text;
}
