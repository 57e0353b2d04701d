/** What is typed over a selection of cells: `14` and `=14` set, `+1.5` and `-1.5` add, `+2%` and `-2%` scale, `*0.97` and `/2` multiply. */

export type Operation = (value: number) => number;

const SHAPE = /^([=+\-*/]?)\s*(-?\d+(?:[.,]\d+)?|-?[.,]\d+)\s*(%?)$/;

/** @returns `null` for text that is no operation, or a division by zero */
export function parseOperation(text: string): Operation | null {
	const m = SHAPE.exec(text.trim());
	if (!m) return null;
	const [, sign = '', digits = '', percent = ''] = m;
	const v = Number(digits.replace(',', '.'));
	if (percent) {
		if (sign === '+') return (x) => x * (1 + v / 100);
		if (sign === '-') return (x) => x * (1 - v / 100);
		return null;
	}
	switch (sign) {
		case '+':
			return (x) => x + v;
		case '-':
			return (x) => x - v;
		case '*':
			return (x) => x * v;
		case '/':
			return v === 0 ? null : (x) => x / v;
		default:
			return () => v;
	}
}

/** A block of tab-separated text, as spreadsheets copy it; `null` when a cell is no number. */
export function parseBlock(text: string): number[][] | null {
	const rows = text.replace(/\r/g, '').replace(/\n$/, '').split('\n');
	const out: number[][] = [];
	for (const row of rows) {
		const cells = row
			.split('\t')
			.map((c) => (c.trim() === '' ? Number.NaN : Number(c.trim().replace(',', '.'))));
		if (cells.some((c) => !Number.isFinite(c))) return null;
		out.push(cells);
	}
	return out;
}
