/** Looks at the first lines of a text export: separator, decimal mark, where the header stands, which row has units. */
import { InputError } from '../input-error.ts';
import { parseUnit } from '../units/units.ts';
import { splitHeader } from './header.ts';
import { LayoutError } from './layout-error.ts';
import type { LayoutHint, Separator } from './layout-hint.ts';

export const SEPARATORS: readonly Separator[] = [',', ';', '\t'];

export interface Layout {
	delimiter: Separator;
	decimalComma: boolean;
	/** Column names without their bracketed unit. */
	names: string[];
	/** Unit as written in the header's brackets or the units row; empty when none was given. */
	units: string[];
	/** Byte offset of the first data row. */
	dataOffset: number;
	/** Lines before the first data row, for messages that name a line. */
	linesBefore: number;
	/** Line of the header, from 1. */
	headerLine: number;
	/** First lines of the file, shortened, for a person to look at. */
	lines: string[];
}

export const MAX_COLUMNS = 1000;
const SNIFF_LINES = 60;

/** Bytes that have to be at hand to sniff a layout (or the whole file when it is shorter). */
export const SNIFF_BYTES = 1 << 18;

/** Splits one line into cells; quoted cells may hold the delimiter and doubled quotes. */
export function splitLine(line: string, delimiter: string): string[] {
	if (!line.includes('"')) return line.split(delimiter).map((c) => c.trim());
	const cells: string[] = [];
	let cell = '';
	let quoted = false;
	for (let i = 0; i < line.length; i++) {
		const c = line[i]!;
		if (quoted) {
			if (c !== '"') cell += c;
			else if (line[i + 1] === '"') {
				cell += '"';
				i++;
			} else quoted = false;
		} else if (c === '"' && cell.trim() === '') {
			quoted = true;
			cell = '';
		} else if (c === delimiter) {
			cells.push(cell.trim());
			cell = '';
		} else cell += c;
	}
	cells.push(cell.trim());
	return cells;
}

const NUMBER = /^[-+]?(\d+([.,]\d*)?|[.,]\d+)(e[-+]?\d+)?$/i;
const TIME_OF_DAY = /^(\d{4}-\d\d-\d\d[T ])?\d{1,2}:\d\d(:\d\d([.,]\d+)?)?(Z|[+-]\d\d:?\d\d)?$/;
const EMPTY = /^(|-+|nan|n\/a|null|off|on|true|false)$/i;

function isValue(cell: string): boolean {
	return NUMBER.test(cell) || TIME_OF_DAY.test(cell);
}

interface Row {
	cells: string[];
	end: number;
	values: number;
	words: number;
}

function rowsOf(text: string, lineEnds: number[], delimiter: string): Row[] {
	let from = 0;
	return lineEnds.map((to) => {
		const cells = splitLine(text.slice(from, to).replace(/\r?\n?$/, ''), delimiter);
		from = to;
		const values = cells.filter(isValue).length;
		const words = cells.filter((c) => c && !isValue(c) && !EMPTY.test(c)).length;
		return { cells, end: to, values, words };
	});
}

/** The number of cells that most rows have, and how many have it. */
function commonWidth(rows: Row[]): { width: number; rows: number } {
	const counts = new Map<number, number>();
	for (const r of rows) counts.set(r.cells.length, (counts.get(r.cells.length) ?? 0) + 1);
	let best = { width: 1, rows: 0 };
	for (const [width, n] of counts) {
		if (width > 1 && (n > best.rows || (n === best.rows && width > best.width))) best = { width, rows: n };
	}
	return best;
}

/**
 * @param head the first bytes of the file (`SNIFF_BYTES`, or all of it), UTF-8 with or without a byte order mark
 * @param hint what a person said of the layout; wins over what is recognised
 * @throws LayoutError when no table with a header is recognised, InputError when the bytes are no text at all
 */
export function sniff(head: Uint8Array, hint: LayoutHint = {}): Layout {
	if (head.length === 0) throw new InputError('the file is empty');
	let control = 0;
	for (let i = 0; i < head.length; i++) {
		const b = head[i]!;
		// Tab, line feed, form feed and carriage return belong into text; no other control character does.
		if (b < 32 && b !== 9 && b !== 10 && b !== 12 && b !== 13) control++;
	}
	if (control > head.length / 100)
		throw new InputError(
			'this is a binary file, not a text export; export the log as CSV from the logging program'
		);
	const bom = head[0] === 0xef && head[1] === 0xbb && head[2] === 0xbf ? 3 : 0;
	// Line ends are found in bytes, so that the data offset is exact whatever the encoding of the names.
	const ends: number[] = [];
	const byteEnds: number[] = [];
	const decoder = new TextDecoder('utf-8');
	let text = '';
	let from = bom;
	for (let i = bom; i < head.length && byteEnds.length < SNIFF_LINES; i++) {
		// What the window cuts off is no line yet; a file that ends without a line feed has its last line there.
		if (head[i] === 10 || (i === head.length - 1 && head.length < SNIFF_BYTES)) {
			text += decoder.decode(head.subarray(from, i + 1));
			ends.push(text.length);
			byteEnds.push(i + 1);
			from = i + 1;
		}
	}
	if (ends.length === 0)
		throw new InputError(
			'no line ends within the first 256 kB; this is not a text export of a log',
			'line 1'
		);
	let best: { rows: Row[]; width: number; delimiter: Layout['delimiter']; score: number } | null = null;
	for (const delimiter of hint.separator ? [hint.separator] : SEPARATORS) {
		const rows = rowsOf(text, ends, delimiter);
		const { width, rows: n } = commonWidth(rows);
		// Split at decimal commas, a row with real separators comes apart into pieces of one sign too: prefer
		// the separator under which whole cells are values.
		const cells = rows.filter((r) => r.cells.length === width);
		const sane = cells.reduce((s, r) => s + (r.values + r.words) / r.cells.length, 0);
		const score = width > 1 ? n * 10 + sane + (delimiter === ',' ? 0 : 5) : 0;
		if (!best || score > best.score) best = { rows, width, delimiter, score };
	}
	if (!best || best.score === 0)
		throw new LayoutError('no columns found: no line is split by comma, semicolon or tab', {
			columns: [],
			lines: linesOf(text)
		});
	const { rows, width, delimiter } = best;
	const headerAt =
		hint.headerLine === undefined
			? rows.findIndex(
					(r) => r.cells.length >= width && r.values === 0 && r.words >= Math.max(2, width * 0.5)
				)
			: hint.headerLine - 1;
	if (!rows[headerAt])
		throw new LayoutError(
			hint.headerLine === undefined
				? 'no header line found'
				: `line ${hint.headerLine} is not among the first ${rows.length} lines`,
			{ columns: [], separator: delimiter, lines: linesOf(text) }
		);
	const header = [...rows[headerAt]!.cells];
	// A trailing separator makes one nameless column at the end.
	while (header.length > 1 && header[header.length - 1] === '') header.pop();
	if (header.length > MAX_COLUMNS)
		throw new InputError(
			`the header names ${header.length} columns; at most ${MAX_COLUMNS} are read. Export fewer channels`,
			`line ${headerAt + 1}`
		);
	const next = rows[headerAt + 1];
	const hasUnitsRow =
		next !== undefined &&
		next.values === 0 &&
		next.cells.length >= Math.min(width, 2) &&
		next.cells.some((c) => parseUnit(c.replace(/^[[(]|[\])]$/g, '')) !== null);
	const split = header.map(splitHeader);
	const units = split.map((h, i) => {
		const fromRow = hasUnitsRow ? (next.cells[i] ?? '').replace(/^[[(]|[\])]$/g, '') : '';
		return h.unit || fromRow;
	});
	const lastHead = hasUnitsRow ? headerAt + 1 : headerAt;
	const data = rows.slice(lastHead + 1).filter((r) => r.values > 0);
	// A first row that is longer than the window is for the scanner to judge.
	const cutOff = head.length >= SNIFF_BYTES && rows.length === lastHead + 1;
	if (data.length === 0 && !cutOff)
		throw new InputError('there is a header, but no row of data below it', `line ${lastHead + 1}`);
	const cells = data.flatMap((r) => r.cells);
	const commas = cells.filter((c) => /^[-+]?\d*,\d+$/.test(c)).length;
	const points = cells.filter((c) => /^[-+]?\d*\.\d+$/.test(c)).length;
	return {
		delimiter,
		decimalComma: delimiter !== ',' && commas > points,
		names: split.map((h, i) => h.name || `column ${i + 1}`),
		units,
		dataOffset: byteEnds[lastHead]!,
		linesBefore: lastHead + 1,
		headerLine: headerAt + 1,
		lines: linesOf(text)
	};
}

const SHOWN_LINES = 12;
const SHOWN_CHARS = 400;

/** The first lines, for a person to look at. */
function linesOf(text: string): string[] {
	return text
		.split('\n', SHOWN_LINES)
		.map((line) => line.replace(/\r$/, ''))
		.map((line) => (line.length > SHOWN_CHARS ? `${line.slice(0, SHOWN_CHARS)}…` : line));
}
