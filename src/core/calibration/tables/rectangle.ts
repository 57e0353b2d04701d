/** The numbers of a pasted text without what stands around them; what divides or breaks them is refused with its row and column. */
import { InputError } from '../../input-error.ts';
import { at, type Cell, type TextGrid } from './text-grid.ts';

export type NumberCell = Extract<Cell, { kind: 'number' }>;
const isNumber = (c: Cell): c is NumberCell => c.kind === 'number';

export interface Rectangle {
	numbers: (NumberCell | null)[][];
	rowAt: number[];
	columnAt: number[];
	/** The corner cell holds nothing, or a word: there are axes on both sides. */
	openCorner: boolean;
	/** Words around it. */
	titles: string[];
}

const wordsIn = (row: readonly Cell[]): string[] => row.flatMap((c) => (c.kind === 'text' ? [c.text] : []));

/** The numbers of the text, without what stands around them. */
export function rectangleOf({ cells, rowAt, columnAt }: TextGrid): Rectangle {
	const titles: string[] = [];
	const counts = cells.map((r) => r.filter(isNumber).length);
	const first = counts.findIndex((n) => n > 0);
	if (first < 0) {
		const [word] = wordsIn(cells.flat());
		throw new InputError(`there is no number in it${word ? `: it begins with "${word.slice(0, 40)}"` : ''}`);
	}
	let last = cells.length - 1;
	while (counts[last] === 0) last--;
	for (const [r, row] of cells.entries()) {
		const inside = r >= first && r <= last;
		if (!inside) titles.push(...wordsIn(row));
		else if (counts[r] === 0) {
			if (row.every((c) => c.kind === 'empty'))
				throw new InputError(
					'an empty row divides it: these are two tables; paste one at a time',
					`row ${rowAt[r]!}`
				);
			throw new InputError(
				`"${wordsIn(row)[0]!.slice(0, 40)}" stands between the rows: these are two tables; paste one at a time`,
				at(rowAt[r]!, columnAt[row.findIndex((c) => c.kind === 'text')]!)
			);
		}
	}
	const body = cells.slice(first, last + 1);
	// Columns without a number are names of the axis, or the end of every line.
	const used = columnAt.map((_, c) => body.some((row) => isNumber(row[c]!)));
	const left = used.indexOf(true);
	const right = used.lastIndexOf(true);
	for (const [c] of columnAt.entries()) {
		if (c < left || c > right) for (const row of body) titles.push(...wordsIn([row[c]!]));
		else if (!used[c]) {
			const word = body.findIndex((row) => row[c]!.kind === 'text');
			throw new InputError(
				'an empty column divides it: these are two tables; paste one at a time',
				word < 0 ? `column ${columnAt[c]!}` : at(rowAt[first + word]!, columnAt[c]!)
			);
		}
	}
	let rows = body.map((row) => row.slice(left, right + 1));
	const columns = columnAt.slice(left, right + 1);
	const places = rowAt.slice(first, last + 1);
	// A line of points that is one short: the corner was left out, and everything stands one too far to the left.
	const filled = (row: readonly Cell[]) => row.filter((c) => c.kind !== 'empty').length;
	const full = columns.length;
	if (
		rows.length > 1 &&
		isNumber(rows[0]![0]!) &&
		filled(rows[0]!) === full - 1 &&
		rows[0]![full - 1]!.kind === 'empty' &&
		rows.slice(1).every((r) => filled(r) === full)
	)
		rows = [[{ kind: 'empty' }, ...rows[0]!.slice(0, -1)], ...rows.slice(1)];
	const corner = rows[0]![0]!;
	const openCorner = !isNumber(corner) && rows.length > 1 && full > 1;
	if (openCorner) titles.push(...wordsIn([corner]));
	const numbers = rows.map((row, r) =>
		row.map((cell, c) => {
			if (isNumber(cell)) return cell;
			if (openCorner && r === 0 && c === 0) return null;
			const place = at(places[r]!, columns[c]!);
			if (cell.kind === 'text') {
				if (cell.text.startsWith('='))
					throw new InputError(
						`"${cell.text.slice(0, 40)}" is a formula: copy its value, not the formula`,
						place
					);
				if (/^[+-]?[\d.,]+\s*\D+$/.test(cell.text))
					throw new InputError(
						`"${cell.text.slice(0, 40)}" has a unit in the cell: copy the numbers alone, the unit is said once`,
						place
					);
				throw new InputError(`"${cell.text.slice(0, 40)}" is not a number`, place);
			}
			const n = filled(row);
			throw new InputError(
				`there is no value here: this row has ${n} ${n === 1 ? 'cell' : 'cells'}, the longest has ${full}`,
				place
			);
		})
	);
	return { numbers, rowAt: places, columnAt: columns, openCorner, titles };
}
