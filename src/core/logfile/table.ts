/** Bytes of a text export, in chunks, to named raw columns: layout found from the head, then one scanning pass. */
import { InputError } from '../input-error.ts';
import { TableScanner } from './scan.ts';
import { SNIFF_BYTES, sniff, type Layout } from './sniff.ts';

export interface RawColumn {
	name: string;
	/** Unit as written in the file; empty when none was given. */
	unit: string;
	values: Float32Array | Float64Array;
	texts: string[];
	textCells: number;
}

export interface RawTable {
	columns: RawColumn[];
	rows: number;
	/** What a reader of the log should know about how it was read. */
	notes: string[];
}

/** Columns by these names carry time and keep double precision: Float32 is too coarse over hours. */
export function isTimeName(name: string): boolean {
	return /^(time|timestamp|t|elapsed|seconds|secs|sec|clock|record time|log time|time of day)$/i.test(
		name.trim().replace(/[_\s]+/g, ' ')
	);
}

/** More rows than this share with a wrong number of cells, and the file is refused. */
const RAGGED_SHARE = 0.05;

export class TableReader {
	private head: Uint8Array[] = [];
	private headBytes = 0;
	private layout: Layout | null = null;
	private scanner: TableScanner | null = null;

	push(chunk: Uint8Array): void {
		if (this.scanner) {
			this.scanner.push(chunk);
			return;
		}
		// A copy: the caller may fill the same buffer again.
		this.head.push(new Uint8Array(chunk));
		this.headBytes += chunk.length;
		if (this.headBytes >= SNIFF_BYTES) this.begin();
	}

	/** @throws InputError when the file holds no usable table */
	finish(): RawTable {
		if (!this.scanner) this.begin();
		const { columns, rows, ragged } = this.scanner!.finish();
		const layout = this.layout!;
		if (rows === 0) throw new InputError('there is a header, but no row of data below it');
		const notes: string[] = [];
		if (ragged.count > 0) {
			if (ragged.count > rows * RAGGED_SHARE)
				throw new InputError(
					`${ragged.count} of ${rows} rows don't have the ${layout.names.length} cells that the header names; the export is damaged or its separator also stands inside values. Export it again`,
					`line ${ragged.firstLine}`
				);
			notes.push(
				`${ragged.count} of ${rows} rows have another number of cells than the header (first: line ${ragged.firstLine}); missing cells were left empty.`
			);
		}
		return {
			columns: layout.names.map((name, i) => ({
				name,
				unit: layout.units[i] ?? '',
				...columns[i]!
			})),
			rows,
			notes
		};
	}

	private begin(): void {
		const head = new Uint8Array(this.headBytes);
		let at = 0;
		for (const part of this.head) {
			head.set(part, at);
			at += part.length;
		}
		this.head = [];
		this.layout = sniff(head.subarray(0, SNIFF_BYTES));
		this.scanner = new TableScanner(this.layout, this.layout.names.map(isTimeName));
		this.scanner.push(head.subarray(this.layout.dataOffset));
	}
}
