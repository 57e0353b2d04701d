/** A table as CSV: first row the x points, first column the y points, the corner empty. A curve has one row without a y point. */
import { InputError } from '../../input-error.ts';
import type { Calibration, CurveItem, Item, MapItem } from '../document.ts';

export type Table = MapItem | CurveItem;

export const isTable = (i: Item | undefined): i is Table => i?.kind === 'map' || i?.kind === 'curve';

export function tableCsv(table: Table): string {
	const rows = table.kind === 'map' ? table.values : [table.values];
	const y = table.kind === 'map' ? table.y.points : [''];
	return [['', ...table.x.points], ...rows.map((row, r) => [y[r]!, ...row])]
		.map((row) => `${row.join(',')}\n`)
		.join('');
}

/** All tables one after the other: each under a line with its id, an empty line between. */
export function allTablesCsv(calibration: Calibration): string {
	return calibration.items
		.filter(isTable)
		.map((t) => `${t.id}\n${tableCsv(t)}`)
		.join('\n');
}

/**
 * The table with axes and values of a CSV; everything else of it stays.
 * @throws InputError naming line and column
 */
export function tableFromCsv(table: Table, text: string): Table {
	const lines = text
		.replace(/^\ufeff/, '')
		.split(/\r?\n/)
		.filter((l) => l.trim() !== '');
	const separator = /[;\t]/.exec(lines[0] ?? '')?.[0] ?? ',';
	const number = (cell: string, line: number, column: number): number => {
		const plain = separator === ',' ? cell.trim() : cell.trim().replace(',', '.');
		const v = Number(plain);
		if (plain === '' || !Number.isFinite(v))
			throw new InputError(
				`"${cell.trim()}" is not a number`,
				`line ${line + 1}, column ${column + 1} of the CSV`
			);
		return v;
	};
	const cells = lines.map((l) => l.split(separator));
	const [head, ...rest] = cells;
	if (!head || rest.length === 0)
		throw new InputError('the CSV has no rows: a line of x points, then rows of values');
	const x = head.slice(1).map((c, i) => number(c, 0, i + 1));
	const values = rest.map((row, r) => {
		if (row.length !== x.length + 1)
			throw new InputError(`${row.length - 1} values for ${x.length} x points`, `line ${r + 2} of the CSV`);
		return row.slice(1).map((c, i) => number(c, r + 1, i + 1));
	});
	if (table.kind === 'curve') {
		if (values.length !== 1)
			throw new InputError(`${table.id} is a curve: one row of values, not ${values.length}`);
		return { ...table, x: { ...table.x, points: x }, values: values[0]! };
	}
	const y = rest.map((row, r) => number(row[0]!, r + 1, 0));
	return { ...table, x: { ...table.x, points: x }, y: { ...table.y, points: y }, values };
}
