/** JSON Lines: one object a row, its keys the headers, units in brackets allowed. Keys that appear late are empty before. */
import { InputError } from '../input-error.ts';
import { parseCell } from './cell.ts';
import type { FlatTable } from './reshape.ts';
import { MAX_CELLS, MAX_LINE_BYTES } from './scan.ts';
import { splitHeader } from './header.ts';
import { MAX_COLUMNS } from './sniff.ts';

const MAX_TEXTS = 64;

class Growing {
	values: Float32Array | Float64Array;
	readonly texts = new Set<string>();
	textCells = 0;

	/** @param wide in double precision, as clocks need it */
	constructor(private readonly wide: boolean) {
		this.values = this.empty(1024);
	}

	private empty(length: number): Float32Array | Float64Array {
		return (this.wide ? new Float64Array(length) : new Float32Array(length)).fill(Number.NaN);
	}

	set(row: number, value: number): void {
		if (row >= this.values.length) {
			const more = this.empty(Math.max(row + 1, this.values.length * 2));
			more.set(this.values);
			this.values = more;
		}
		this.values[row] = value;
	}
}

export class JsonLinesReader {
	private readonly columns = new Map<string, Growing>();
	private readonly decoder = new TextDecoder('utf-8');
	private rest: Uint8Array = new Uint8Array(0);
	private rows = 0;
	private line = 0;

	/** @param time the key that a person said is the clock */
	constructor(private readonly time?: string) {}

	/** Whether a file begins like JSON Lines: with an object. */
	static looksLike(head: Uint8Array): boolean {
		let i = head[0] === 0xef ? 3 : 0;
		while (head[i] === 32 || head[i] === 9 || head[i] === 10 || head[i] === 13) i++;
		return head[i] === 123;
	}

	push(chunk: Uint8Array): void {
		const bytes = new Uint8Array(this.rest.length + chunk.length);
		bytes.set(this.rest);
		bytes.set(chunk, this.rest.length);
		let from = 0;
		for (let to = bytes.indexOf(10); to >= 0; to = bytes.indexOf(10, from)) {
			this.take(bytes.subarray(from, to));
			from = to + 1;
		}
		this.rest = bytes.slice(from);
		if (this.rest.length > MAX_LINE_BYTES)
			throw new InputError('the line is longer than 1 MB; this is not a log', `line ${this.line + 1}`);
	}

	finish(): FlatTable {
		if (this.rest.length) this.take(this.rest);
		if (this.rows === 0) throw new InputError('there is no row of data');
		return {
			columns: [...this.columns].map(([key, c]) => ({
				...splitHeader(key),
				values: c.values.length >= this.rows ? c.values.subarray(0, this.rows) : padded(c.values, this.rows),
				texts: [...c.texts],
				textCells: c.textCells
			})),
			rows: this.rows,
			notes: []
		};
	}

	private take(bytes: Uint8Array): void {
		this.line++;
		if (bytes.length > MAX_LINE_BYTES)
			throw new InputError('the line is longer than 1 MB; this is not a log', `line ${this.line}`);
		const text = this.decoder.decode(bytes).trim();
		if (text === '') return;
		let row: unknown;
		try {
			row = JSON.parse(text);
		} catch {
			throw new InputError('no valid JSON; every line has to be one object', `line ${this.line}`);
		}
		if (typeof row !== 'object' || row === null || Array.isArray(row))
			throw new InputError('every line has to be one object with a value per channel', `line ${this.line}`);
		for (const [key, value] of Object.entries(row)) {
			let column = this.columns.get(key);
			if (!column) {
				if (this.columns.size >= MAX_COLUMNS)
					throw new InputError(`more than ${MAX_COLUMNS} different keys`, `line ${this.line}`);
				this.columns.set(
					key,
					(column = new Growing(/time|clock|elapsed|sec|^t$/i.test(key) || key === this.time))
				);
			}
			if (typeof value === 'number') column.set(this.rows, value);
			else if (typeof value === 'boolean') column.set(this.rows, value ? 1 : 0);
			else if (typeof value === 'string') {
				const parsed = parseCell(value, false);
				column.set(this.rows, parsed ?? Number.NaN);
				if (parsed === null) {
					column.textCells++;
					if (column.texts.size < MAX_TEXTS) column.texts.add(value.slice(0, 200));
				}
			}
		}
		this.rows++;
		if (this.rows * this.columns.size > MAX_CELLS)
			throw new InputError(
				`more than ${MAX_CELLS / 1e6} million values; cut the recording into parts`,
				`line ${this.line}`
			);
	}
}

function padded(values: Float32Array | Float64Array, rows: number): Float32Array | Float64Array {
	const out = (values instanceof Float64Array ? new Float64Array(rows) : new Float32Array(rows)).fill(
		Number.NaN
	);
	out.set(values);
	return out;
}
