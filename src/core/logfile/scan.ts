/**
 * Bytes of a delimited text to typed columns, in one pass, in chunks of any size.
 *
 * Plain decimal numbers are read straight from the bytes; anything else (quotes, exponents, words, clock times) takes a slow
 * path through a string. Rows go into a small row-major buffer that is transposed into column blocks when full:
 * writing stays sequential, and no object is made per sample.
 */
import { InputError } from '../input-error.ts';
import { parseCell } from './cell.ts';
import type { Layout } from './sniff.ts';

const ROWS_PER_TILE = 128;
const BLOCK = 1 << 16;
const MAX_TEXTS = 64;
const MAX_CODES = 1000;
export const MAX_LINE_BYTES = 1 << 20;
/** Rows × columns that are read, a clock counted twice: half a GB of memory, twenty-eight hours of sixty channels at 20 Hz. */
export const MAX_CELLS = 124e6;
const POW10 = Float64Array.from({ length: 23 }, (_, i) => 10 ** i);

export interface ScannedColumn {
	/** Float64 for columns named in `wide` (times), Float32 for the rest. NaN where the cell is empty or text. */
	values: Float32Array | Float64Array;
	/** Distinct texts in order of appearance, at most 64; of a coded column all, its values being indices into them. */
	texts: string[];
	/** Number of cells that held text. */
	textCells: number;
}

export interface Scanned {
	columns: ScannedColumn[];
	rows: number;
	/** Rows with another number of cells than the header, and the line of the first. */
	ragged: { count: number; firstLine: number };
}

class Column {
	readonly blocks: (Float32Array | Float64Array)[] = [];
	readonly texts = new Set<string>();
	textCells = 0;
	constructor(
		readonly wide: boolean,
		/** Texts of a coded column, each cell holding the index of its text. */
		readonly codes: Map<string, number> | null
	) {}

	/** Index of a text in a coded column. */
	code(text: string): number {
		let at = this.codes!.get(text);
		if (at === undefined) {
			if (this.codes!.size >= MAX_CODES)
				throw new InputError(`one column names more than ${MAX_CODES} different channels`);
			this.codes!.set(text, (at = this.codes!.size));
		}
		return at;
	}

	block(index: number): Float32Array | Float64Array {
		return (this.blocks[index] ??= this.wide ? new Float64Array(BLOCK) : new Float32Array(BLOCK));
	}

	joined(rows: number): Float32Array | Float64Array {
		const out = this.wide ? new Float64Array(rows) : new Float32Array(rows);
		for (let b = 0; b * BLOCK < rows; b++) {
			out.set(this.block(b).subarray(0, Math.min(BLOCK, rows - b * BLOCK)), b * BLOCK);
			// Freed one by one, so that the peak is one copy and one column.
			this.blocks[b] = EMPTY_BLOCK;
		}
		return out;
	}
}
const EMPTY_BLOCK = new Float32Array(0);

export class TableScanner {
	private readonly columns: Column[];
	private readonly width: number;
	private readonly delimiter: number;
	private readonly mark: number;
	private readonly decimalComma: boolean;
	private readonly tile: Float64Array;
	private tileRows = 0;
	private rows = 0;
	private line: number;
	private rest: Uint8Array = new Uint8Array(0);
	private raggedRows = 0;
	private firstRagged = 0;
	private readonly decoder = new TextDecoder('utf-8');

	/**
	 * @param wide per column: keep full double precision (time)
	 * @param coded per column: its cells are names (long form), kept as indices into its texts
	 */
	constructor(layout: Layout, wide: readonly boolean[], coded: readonly boolean[] = []) {
		this.width = layout.names.length;
		this.columns = layout.names.map((_, i) => new Column(wide[i] ?? false, coded[i] ? new Map() : null));
		this.delimiter = layout.delimiter.charCodeAt(0);
		this.mark = layout.decimalComma ? 44 : 46;
		this.decimalComma = layout.decimalComma;
		this.tile = new Float64Array(ROWS_PER_TILE * this.width);
		this.line = layout.linesBefore;
	}

	/** Takes the next bytes; a row that isn't complete yet waits for the next call. */
	push(chunk: Uint8Array): void {
		let start = 0;
		if (this.rest.length > 0) {
			const newline = chunk.indexOf(10);
			const upTo = newline < 0 ? chunk.length : newline + 1;
			if (this.rest.length + upTo > MAX_LINE_BYTES)
				throw new InputError('the line is longer than 1 MB; this is not a log', `line ${this.line + 1}`);
			const joined = new Uint8Array(this.rest.length + upTo);
			joined.set(this.rest);
			joined.set(chunk.subarray(0, upTo), this.rest.length);
			this.rest = joined;
			if (newline < 0) return;
			this.scan(joined, 0, joined.length);
			this.rest = EMPTY_BYTES;
			start = upTo;
		}
		const last = chunk.lastIndexOf(10);
		if (last >= start) this.scan(chunk, start, last + 1);
		// A copy, not a view: whoever reads the file may fill the same buffer again.
		if (last + 1 < chunk.length) this.rest = new Uint8Array(chunk.subarray(Math.max(start, last + 1)));
		if (this.rest.length > MAX_LINE_BYTES)
			throw new InputError('the line is longer than 1 MB; this is not a log', `line ${this.line + 1}`);
	}

	finish(): Scanned {
		if (this.rest.length > 0) {
			// A last row without line end counts only when it is whole: a logger that lost power leaves half a row.
			const line = new Uint8Array(this.rest.length + 1);
			line.set(this.rest);
			line[this.rest.length] = 10;
			const before = this.raggedRows;
			this.scan(line, 0, line.length);
			if (this.raggedRows > before) {
				this.raggedRows = before;
				if (this.tileRows > 0) this.tileRows--;
				else this.rows--;
			}
		}
		this.flush();
		return {
			columns: this.columns.map((c) => ({
				values: c.joined(this.rows),
				texts: [...(c.codes?.keys() ?? c.texts)],
				textCells: c.textCells
			})),
			rows: this.rows,
			ragged: { count: this.raggedRows, firstLine: this.firstRagged }
		};
	}

	private flush(): void {
		const { tile, width } = this;
		const n = this.tileRows;
		if (n === 0) return;
		const at = this.rows % BLOCK;
		const block = (this.rows - at) / BLOCK;
		// BLOCK is a multiple of the tile except after a short last tile, so a tile never straddles two blocks.
		for (let c = 0; c < width; c++) {
			const target = this.columns[c]!.block(block);
			for (let r = 0, k = c; r < n; r++, k += width) target[at + r] = tile[k]!;
		}
		this.rows += n;
		this.tileRows = 0;
		if (this.rows * (width + this.columns.filter((c) => c.wide).length) > MAX_CELLS)
			throw new InputError(
				`more than ${MAX_CELLS / 1e6} million values; cut the recording into parts`,
				`line ${this.line}`
			);
	}

	/** Scans whole lines: `buf[to - 1]` is a line feed. */
	private scan(buf: Uint8Array, from: number, to: number): void {
		const { width, delimiter, mark, tile } = this;
		let p = from;
		while (p < to) {
			this.line++;
			let c = buf[p]!;
			if (c === 10 || (c === 13 && buf[p + 1] === 10)) {
				p += c === 10 ? 1 : 2;
				continue; // blank line
			}
			const base = this.tileRows * width;
			let column = 0;
			let emptyAt = -1;
			for (;;) {
				const cellStart = p;
				c = buf[p]!;
				// A plain number in quotes is as quick as one without.
				const quoted = c === 34;
				if (quoted) c = buf[++p]!;
				let value = 0;
				let negative = false;
				if (c === 45) {
					negative = true;
					c = buf[++p]!;
				}
				const digitsStart = p;
				while (c >= 48 && c <= 57) {
					value = value * 10 + (c - 48);
					c = buf[++p]!;
				}
				let digits = p - digitsStart;
				if (c === mark) {
					const fraction = p + 1;
					c = buf[++p]!;
					while (c >= 48 && c <= 57) {
						value = value * 10 + (c - 48);
						c = buf[++p]!;
					}
					const places = p - fraction;
					digits += places;
					if (places > 0 && places < 23) value /= POW10[places]!;
				}
				if (quoted && c === 34 && digits > 0) c = buf[++p]!;
				else if (quoted) digits = 0;
				if (digits > 0 && digits < 16 && (c === delimiter || c === 10 || (c === 13 && buf[p + 1] === 10))) {
					if (column < width) tile[base + column] = negative ? -value : value;
				} else if (p === cellStart && (c === delimiter || c === 10 || c === 13)) {
					if (column < width) tile[base + column] = Number.NaN;
					emptyAt = column;
				} else {
					p = this.slowCell(buf, cellStart, to, base, column);
					c = buf[p]!;
				}
				column++;
				if (c === delimiter) {
					p++;
					continue;
				}
				break;
			}
			// c is at CR or LF
			p = buf[p] === 13 ? p + 2 : p + 1;
			if (column !== width) {
				// One empty cell more than the header is a trailing separator, not a ragged row.
				const trailing = column === width + 1 && emptyAt === width;
				if (!trailing) {
					this.raggedRows++;
					if (this.firstRagged === 0) this.firstRagged = this.line;
				}
				for (let k = column; k < width; k++) tile[base + k] = Number.NaN;
			}
			if (++this.tileRows === ROWS_PER_TILE) this.flush();
		}
	}

	/** Reads one cell that is no plain number; returns the position of its delimiter or line end. */
	private slowCell(buf: Uint8Array, start: number, to: number, base: number, column: number): number {
		let p = start;
		let text: string;
		while (buf[p] === 32) p++;
		if (buf[p] === 34) {
			let q = p + 1;
			while (q < to && !(buf[q] === 34 && buf[q + 1] !== 34)) q += buf[q] === 34 ? 2 : 1;
			if (q >= to) throw new InputError('a quoted cell is never closed', `line ${this.line}`);
			text = this.decoder.decode(buf.subarray(p + 1, q)).replaceAll('""', '"');
			p = q + 1;
			while (buf[p] === 32) p++;
		} else {
			while (p < to && buf[p] !== this.delimiter && buf[p] !== 10 && buf[p] !== 13) p++;
			text = this.decoder.decode(buf.subarray(start, p));
		}
		while (p < to && buf[p] !== this.delimiter && buf[p] !== 10 && !(buf[p] === 13 && buf[p + 1] === 10)) p++;
		if (column < this.width) {
			if (this.columns[column]!.codes) {
				this.tile[base + column] = this.columns[column]!.code(text.trim().slice(0, 200));
				return p;
			}
			const value = parseCell(text, this.decimalComma);
			this.tile[base + column] = value ?? Number.NaN;
			if (value === null) {
				const col = this.columns[column]!;
				col.textCells++;
				if (col.texts.size < MAX_TEXTS) col.texts.add(text.trim().slice(0, 200));
			}
		}
		return p;
	}
}
const EMPTY_BYTES = new Uint8Array(0);
