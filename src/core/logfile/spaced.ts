/**
 * Columns that are lined up with spaces: turned into the same text with tabs, piece by piece, before its layout is looked at. Only text
 * whose rows are nothing but numbers with spaces between is taken for that; a name may have single spaces in it.
 */
const LINES = 60;
/** Rows that have to agree before text is taken for columns. */
const ROWS = 4;
const [SPACE, TAB, LF, CR] = [32, 9, 10, 13];
const NUMBER = /^[-+]?(\d+([.,]\d*)?|[.,]\d+)(e[-+]?\d+)?$|^\d{1,2}:\d\d(:\d\d([.,]\d+)?)?$/i;

const words = (line: string): string[] => line.trim().split(/ +/);
const numbersIn = (line: string): number => {
	const cells = words(line);
	return cells.length > 1 && cells.every((c) => NUMBER.test(c)) ? cells.length : 0;
};

/** Names of a header over so many columns: two spaces and more stand between them, or every one. */
function namesIn(line: string, columns: number): string[] | null {
	for (const between of [/ {2,}/, / +/]) {
		const names = line.trim().split(between);
		if (names.length === columns) return names;
	}
	return null;
}

export class SpacedText {
	/** Nothing of the line yet but spaces. */
	private start = true;
	/** Spaces that have been seen and not yet become a tab. */
	private gap = false;

	/** @param dataAt byte at which the first row of numbers begins */
	private constructor(
		private readonly above: Uint8Array,
		private readonly dataAt: number
	) {}

	/** @param head the first bytes of a text; `null` where it isn't lined up with spaces under a header */
	static of(head: Uint8Array): SpacedText | null {
		const lines: { text: string; from: number }[] = [];
		const decoder = new TextDecoder('utf-8');
		for (let from = 0; from < head.length && lines.length < LINES;) {
			const end = head.indexOf(LF, from);
			const to = end < 0 ? head.length : end;
			lines.push({ text: decoder.decode(head.subarray(from, to)).replace(/\r$/, ''), from });
			from = to + 1;
		}
		const first = lines.findIndex((l) => numbersIn(l.text) > 0);
		if (first < 1) return null;
		// The last line at hand may be cut off.
		const rows = lines.slice(first, -1).filter((l) => l.text.trim() !== '');
		const columns = numbersIn(lines[first]!.text);
		if (rows.length < ROWS || rows.some((r) => numbersIn(r.text) !== columns)) return null;
		// A row of units may stand between the names and the numbers.
		const above = lines.slice(0, first);
		const headerAt = above.findLastIndex(
			(l, i) =>
				namesIn(l.text, columns) !== null && (i === 0 || namesIn(above[i - 1]!.text, columns) === null)
		);
		if (headerAt < 0) return null;
		const text = above.map((l, i) =>
			i < headerAt ? l.text : (namesIn(l.text, columns)?.join('\t') ?? l.text)
		);
		return new SpacedText(new TextEncoder().encode(text.map((t) => `${t}\n`).join('')), lines[first]!.from);
	}

	/** The head that it was told by, with tabs. */
	head(bytes: Uint8Array): Uint8Array {
		const rows = this.push(bytes.subarray(this.dataAt));
		const out = new Uint8Array(this.above.length + rows.length);
		out.set(this.above);
		out.set(rows, this.above.length);
		return out;
	}

	/** Rows of numbers, with tabs; a piece may begin and end anywhere. */
	push(chunk: Uint8Array): Uint8Array {
		const out = new Uint8Array(chunk.length + 1);
		let n = 0;
		for (const byte of chunk) {
			if (byte === SPACE) {
				this.gap = !this.start;
				continue;
			}
			const ends = byte === LF || byte === CR;
			if (this.gap && !ends) out[n++] = TAB!;
			this.gap = false;
			this.start = ends;
			out[n++] = byte;
		}
		return out.subarray(0, n);
	}
}
