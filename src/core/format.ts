/** Numbers and words as people read them: the one place that rounds for reading. */

/** With so many decimals; the half goes away from zero as a reader would do it. @example fixed(1.005, 2) // "1.01" */
export function fixed(value: number, decimals: number): string {
	// Binary fractions fall short of the half that was written: 1.005 is 1.00499….
	const lifted = value === 0 ? 0 : value * (1 + Number.EPSILON);
	const text = lifted.toFixed(decimals);
	return Number(text) === 0 ? text.replace('-', '') : text;
}

/** The same, or a dash where there is no number. */
export const fixedOrDash = (value: number | null | undefined, decimals: number): string =>
	value === null || value === undefined || Number.isNaN(value) ? '–' : fixed(value, decimals);

export function signed(value: number, decimals = 1): string {
	const text = fixed(Math.abs(value), decimals);
	return value < 0 ? `−${text}` : `+${text}`;
}

export function seconds(s: number): string {
	const m = Math.floor(s / 60);
	return m > 0 ? `${m}:${String(Math.floor(s % 60)).padStart(2, '0')} min` : `${fixed(s, 1)} s`;
}

export function list(items: readonly string[], last = 'and'): string {
	if (items.length <= 1) return items[0] ?? '';
	return `${items.slice(0, -1).join(', ')} ${last} ${items[items.length - 1]}`;
}

export function plural(n: number, one: string, many = `${one}s`): string {
	return `${n} ${n === 1 ? one : many}`;
}

export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

export function uncapital(text: string): string {
	return text.charAt(0).toLowerCase() + text.slice(1);
}

/*
 * Quantities in sentences. A sentence is made once, in canonical units; a reader has units of their own. So each quantity stands in it
 * between marks (characters that no text has) with its number, and is written out at the end: `plain` for data and mail, `inUnits` of
 * the display for a reader.
 */
const BEGIN = '\uE000';
const PART = '\uE001';
const END = '\uE002';
const MARKED =
	/\uE000([^\uE001\uE002]*)\uE001([^\uE001\uE002]*)\uE001([^\uE001\uE002]*)\uE001([^\uE002]*)\uE002/g;

/** A unit whose quantities a reader may want in another one; `kPa abs` is an absolute pressure of the manifold, which has a gauge form. `by` marks a difference: 10 °C more are 18 °F more. */
export type MarkedUnit = 'kPa' | 'kPa abs' | '°C' | 'km/h' | 'λ';

/** A quantity for a sentence. @example marked(181.2, 'kPa', 0) // "181 kPa" once it is plain */
export const marked = (value: number, unit: MarkedUnit, decimals = 0, sign = ''): string =>
	`${BEGIN}${value}${PART}${unit}${PART}${decimals}${PART}${sign}${END}`;

const MARKED_UNITS: readonly string[] = ['kPa', 'kPa abs', '°C', 'km/h', 'λ'] satisfies MarkedUnit[];

/** A value in whatever unit: a quantity where a reader may want it in another one, text where not. @example quantity(7000, 'rpm') // "7000 rpm" */
export const quantity = (value: number, unit: string, decimals = 0): string =>
	MARKED_UNITS.includes(unit)
		? marked(value, unit as MarkedUnit, decimals)
		: `${String(Number(value.toFixed(3)))} ${unit}`.trim();

/** A difference of quantities: no offset of a scale belongs to it. */
export const markedBy = (value: number, unit: MarkedUnit, decimals = 0, withSign = false): string =>
	marked(value, unit, decimals, withSign ? 'signed by' : 'by');

export interface Quantity {
	value: number;
	unit: MarkedUnit;
	decimals: number;
	difference: boolean;
	signed: boolean;
}

/** A sentence with its quantities written out by `write`. */
export const written = (text: string, write: (q: Quantity) => string): string =>
	text.replace(MARKED, (_, value: string, unit: string, decimals: string, how: string) =>
		write({
			value: Number(value),
			unit: unit as MarkedUnit,
			decimals: Number(decimals),
			difference: how.endsWith('by'),
			signed: how.startsWith('signed')
		})
	);

/** The sentence in canonical units. */
export const plain = (text: string): string =>
	text.includes(BEGIN)
		? written(text, (q) => {
				const number = q.signed ? signed(q.value, q.decimals) : fixed(q.value, q.decimals);
				return q.unit === 'λ' ? `λ ${number}` : `${number} ${q.unit === 'kPa abs' ? 'kPa' : q.unit}`;
			})
		: text;

/** Whether it has a quantity that a reader may want in other units. */
export const hasQuantities = (text: string): boolean => text.includes(BEGIN);
