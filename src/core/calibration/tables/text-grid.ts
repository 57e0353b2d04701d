/**
 * Text from a clipboard or a small file as a grid of cells: separator and decimal mark are found, places are kept so that a fault can name
 * its row and column in the text as it was pasted.
 */
import { fixed } from '../../format.ts';
import { InputError } from '../../input-error.ts';

export type Cell =
	| { kind: 'empty' }
	| { kind: 'number'; value: number; decimals: number }
	| { kind: 'text'; text: string };

export interface TextGrid {
	/** All rows have the same number of cells. */
	cells: Cell[][];
	/** Row and column of the pasted text, from 1, of each row and column of the grid. */
	rowAt: number[];
	columnAt: number[];
	decimalComma: boolean;
	separator: '\t' | ';' | ',' | ' ';
}

/** More is no table: 2 MB. */
export const MOST_BYTES = 2 * 1024 * 1024;
const NUMBER = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d{1,3})?$/;
const EMPTY: Cell = { kind: 'empty' };
/** Minus signs that people and programs write. */
const MINUS = /^[−–]/;

export const at = (row: number, column: number): string => `row ${row}, column ${column}`;

interface Marks {
	separator: TextGrid['separator'];
	decimalComma: boolean;
	/** Commas group thousands. */
	grouped: boolean;
}

function marksOf(lines: readonly string[]): Marks {
	const separator = lines.some((l) => l.includes('\t'))
		? '\t'
		: lines.some((l) => l.includes(';'))
			? ';'
			: commaSeparates(lines)
				? ','
				: ' ';
	if (separator === ',') return { separator, decimalComma: false, grouped: false };
	const tokens = lines.flatMap((l) => split(l, separator)).map((t) => t.trim());
	const commas = tokens.filter((t) => /^[+−–-]?[\d.]*,\d+/.test(t));
	const points = tokens.some((t) => /^[+−–-]?[\d,]*\.\d+/.test(t) && !/^\d{1,3}(\.\d{3})+,/.test(t));
	const grouped =
		commas.length > 0 &&
		commas.every((t) => /^[+−–-]?[1-9]\d{0,2}(,\d{3})+(\.\d*)?$/.test(t)) &&
		(points || rising(tokens));
	return { separator, decimalComma: commas.length > 0 && !grouped, grouped };
}

/** `500 1,000 1,500`: as thousands it rises, as decimals it doesn't. */
function rising(tokens: readonly string[]): boolean {
	const values = (comma: string) =>
		tokens.slice(0, 40).flatMap((t) => (/^\d[\d,]*$/.test(t) ? [Number(t.replace(/,/g, comma))] : []));
	const climbs = (v: readonly number[]) => v.length > 2 && v.every((x, i) => i === 0 || x > v[i - 1]!);
	return climbs(values('')) && !climbs(values('.'));
}

/** Commas stand between cells where no cell is a decimal with a comma in a list that something else separates. */
function commaSeparates(lines: readonly string[]): boolean {
	const with_ = lines.filter((l) => l.includes(','));
	if (with_.length === 0) return false;
	// `1,5 2,5 3,5`: blanks separate, commas are decimal marks.
	const blanks = with_.filter((l) => l.trim().split(/\s+/).length > 1 && !/,\s|\s,/.test(l.trim()));
	return blanks.length < with_.length;
}

function split(line: string, separator: TextGrid['separator']): string[] {
	if (separator === ' ') return line.trim().split(/\s+/);
	// Quoted cells of a CSV: a separator inside of quotes separates nothing.
	if (!line.includes('"')) return line.split(separator);
	const out: string[] = [];
	let cell = '';
	let quoted = false;
	for (let i = 0; i < line.length; i++) {
		const c = line[i]!;
		if (c === '"') {
			if (quoted && line[i + 1] === '"') {
				cell += '"';
				i++;
			} else quoted = !quoted;
		} else if (c === separator && !quoted) {
			out.push(cell);
			cell = '';
		} else cell += c;
	}
	return [...out, cell];
}

function cellOf(raw: string, m: Marks): Cell {
	const text = raw
		.trim()
		.replace(/^["']|["']$/g, '')
		.trim();
	if (text === '') return EMPTY;
	let plain = text.replace(MINUS, '-').replace(/[\u00a0\u202f ]/g, '');
	if (m.grouped) plain = plain.replace(/,/g, '');
	else if (m.decimalComma) plain = plain.includes(',') ? plain.replace(/\./g, '').replace(',', '.') : plain;
	if (!NUMBER.test(plain)) return { kind: 'text', text };
	const mantissa = plain.split(/[eE]/)[0]!;
	const point = mantissa.indexOf('.');
	const value = Number(plain);
	return { kind: 'number', value, decimals: point < 0 ? 0 : mantissa.length - point - 1 };
}

/** @throws InputError where there is nothing, or more than a table */
export function textGrid(text: string): TextGrid {
	if (text.length > MOST_BYTES)
		throw new InputError(
			`this is ${fixed(text.length / 1024 / 1024, 0)} MB of text; a table has 2 MB at most`
		);
	if (text.includes('\0')) throw new InputError('this is no text: it has bytes that no table has');
	const lines = text.replace(/^\ufeff/, '').split(/\r\n|\r|\n/);
	let last = lines.length;
	while (last > 0 && lines[last - 1]!.trim() === '') last--;
	let first = 0;
	while (first < last && lines[first]!.trim() === '') first++;
	if (first === last)
		throw new InputError('there is nothing in it: copy the table first, then paste it here');
	const kept = lines.slice(first, last);
	const marks = marksOf(kept.filter((l) => l.trim() !== ''));
	const cells = kept.map((line) =>
		(line.trim() === '' ? [] : split(line, marks.separator)).map((c) => cellOf(c, marks))
	);
	const width = cells.reduce((w, r) => Math.max(w, r.length), 0);
	return {
		cells: cells.map((r) => [...r, ...Array<Cell>(width - r.length).fill(EMPTY)]),
		rowAt: kept.map((_, i) => first + i + 1),
		columnAt: Array.from({ length: width }, (_, i) => i + 1),
		decimalComma: marks.decimalComma,
		separator: marks.separator
	};
}
