/** Bytes of a text export, in chunks, to named raw columns: layout found from the head, then one scanning pass. */
import { InputError } from '../input-error.ts';
import { JsonLinesReader } from './json-lines.ts';
import { clockOf, NO_CLOCK, splitHeader } from './header.ts';
import { LayoutError, type LayoutHint, type LayoutSeen } from './layout-error.ts';
import { isChannelName, isUnitName, isValueName } from './names.ts';
import { reshape, type FlatColumn, type RawTable } from './reshape.ts';
import { TableScanner } from './scan.ts';
import { SNIFF_BYTES, sniff, type Layout } from './sniff.ts';

/** Columns of a long form that hold names: which channel, and in which unit, the value of the row is. */
function longForm(names: readonly string[]): boolean[] {
	const long = names.some(isChannelName) && names.some(isValueName) && names.length <= 5;
	return names.map((n) => long && (isChannelName(n) || isUnitName(n)));
}

/** More rows than this share with a wrong number of cells, and the file is refused. */
const RAGGED_SHARE = 0.05;

export class TableReader {
	private head: Uint8Array[] = [];
	private headBytes = 0;
	private layout: Layout | null = null;
	private scanner: TableScanner | null = null;
	private lines: JsonLinesReader | null = null;

	/** @param hint what a person said of the file's layout */
	constructor(private readonly hint: LayoutHint = {}) {}

	push(chunk: Uint8Array): void {
		if (this.scanner) return this.scanner.push(chunk);
		if (this.lines) return this.lines.push(chunk);
		// A copy: the caller may fill the same buffer again.
		this.head.push(new Uint8Array(chunk));
		this.headBytes += chunk.length;
		if (this.headBytes >= SNIFF_BYTES) this.begin();
	}

	/** @throws InputError when the file holds no usable table */
	finish(): RawTable {
		if (!this.scanner && !this.lines) this.begin();
		if (this.lines) return reshape(this.lines.finish(), this.hint.time);
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
		const flat = layout.names.map((name, i): FlatColumn => ({
			name,
			unit: layout.units[i] ?? '',
			...columns[i]!
		}));
		const { delimiter: separator, headerLine, lines } = layout;
		const seen: LayoutSeen = { columns: [...layout.names], separator, headerLine, lines };
		try {
			return { ...reshape({ columns: flat, rows, notes }, this.hint.time), seen };
		} catch (e) {
			throw e instanceof LayoutError ? new LayoutError(e.what, seen) : e;
		}
	}

	private begin(): void {
		const head = new Uint8Array(this.headBytes);
		let at = 0;
		for (const part of this.head) {
			head.set(part, at);
			at += part.length;
		}
		this.head = [];
		if (JsonLinesReader.looksLike(head)) {
			this.lines = new JsonLinesReader();
			return this.lines.push(head);
		}
		this.layout = sniff(head.subarray(0, SNIFF_BYTES), this.hint);
		const { names } = this.layout;
		// Clocks keep double precision: single is too coarse over hours.
		const time = this.hint.time && splitHeader(this.hint.time).name;
		const clocks = Array.from(
			clockOf(names),
			(of, i) => of !== NO_CLOCK || names[i] === time || names[i] === this.hint.time
		);
		this.scanner = new TableScanner(this.layout, clocks, longForm(names));
		this.scanner.push(head.subarray(this.layout.dataOffset));
	}
}
