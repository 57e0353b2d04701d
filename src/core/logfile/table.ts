/** Bytes of a text export, in chunks, to named raw columns: layout found from the head, then one scanning pass. */
import { InputError } from '../input-error.ts';
import { JsonLinesReader } from './json-lines.ts';
import { clockOf, NO_CLOCK, splitHeader } from './header.ts';
import { LayoutError, type LayoutSeen } from './layout-error.ts';
import type { LayoutHint } from './layout-hint.ts';
import { isChannelName, isUnitName, isValueName } from './names.ts';
import { reshape, type FlatColumn, type RawTable } from './reshape.ts';
import { TableScanner } from './scan.ts';
import { SNIFF_BYTES, sniff, type Layout } from './sniff.ts';
import { SpacedText } from './spaced.ts';

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
	private spaced: SpacedText | null = null;

	private hint: LayoutHint;
	/** A person said how to read this layout. */
	private byHand: boolean;

	/**
	 * @param said what a person said of this file's layout
	 * @param remembered what was said of other files, tried in turn where nothing is recognised
	 */
	constructor(
		said?: LayoutHint,
		private readonly remembered: readonly LayoutHint[] = []
	) {
		this.hint = said ?? {};
		this.byHand = said !== undefined;
	}

	push(chunk: Uint8Array): void {
		if (this.scanner) return this.scanner.push(this.spaced?.push(chunk) ?? chunk);
		if (this.lines) return this.lines.push(chunk);
		// A copy: the caller may fill the same buffer again.
		this.head.push(new Uint8Array(chunk));
		this.headBytes += chunk.length;
		if (this.headBytes >= SNIFF_BYTES) this.begin();
	}

	/** @throws InputError when the file holds no usable table */
	finish(): RawTable {
		if (!this.scanner && !this.lines) this.begin();
		if (this.lines) {
			const table = this.lines.finish();
			const names = table.columns.map((c) => c.name);
			const time = this.hint.time ?? rememberedTime(names, this.remembered);
			return { ...reshape(table, time), byHand: time !== undefined };
		}
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
			return { ...reshape({ columns: flat, rows, notes }, this.hint.time), seen, byHand: this.byHand };
		} catch (e) {
			throw e instanceof LayoutError ? new LayoutError(e.what, seen) : e;
		}
	}

	private begin(): void {
		let head = new Uint8Array(this.headBytes);
		let at = 0;
		for (const part of this.head) {
			head.set(part, at);
			at += part.length;
		}
		this.head = [];
		if (JsonLinesReader.looksLike(head)) {
			this.lines = new JsonLinesReader(this.hint.time ?? this.remembered.find((r) => r.time)?.time);
			return this.lines.push(head);
		}
		if (!this.hint.separator) this.spaced = SpacedText.of(head);
		if (this.spaced) head = new Uint8Array(this.spaced.head(head));
		this.layout = this.recognised(head.subarray(0, SNIFF_BYTES));
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

	/** The layout as said, else as recognised, else the first of the remembered ones that has a time in this file. */
	private recognised(head: Uint8Array): Layout {
		let failure: unknown = null;
		let plain: Layout | null = null;
		try {
			plain = sniff(head, this.hint);
			if (this.byHand || hasTime(plain.names)) return plain;
		} catch (e) {
			if (this.byHand || !(e instanceof LayoutError)) throw e;
			failure = e;
		}
		for (const hint of this.remembered) {
			const layout = layoutWith(head, hint);
			if (!layout) continue;
			this.hint = hint;
			this.byHand = true;
			return layout;
		}
		if (!plain) throw failure;
		return plain;
	}
}

const hasTime = (names: readonly string[]) =>
	longForm(names).some(Boolean) || clockOf(names).some((c) => c !== NO_CLOCK);

/** The layout under a hint; `null` where the file has no such header or time. */
function layoutWith(head: Uint8Array, hint: LayoutHint): Layout | null {
	try {
		const layout = sniff(head, hint);
		return (hint.time === undefined ? hasTime(layout.names) : layout.names.includes(hint.time))
			? layout
			: null;
	} catch (e) {
		if (e instanceof LayoutError) return null;
		throw e;
	}
}

/** The time column that was named for another file, where this one has it and no clock of its own. */
export function rememberedTime(
	names: readonly string[],
	remembered: readonly LayoutHint[]
): string | undefined {
	if (hasTime(names)) return undefined;
	return remembered.find((r) => r.time !== undefined && names.includes(r.time))?.time;
}
