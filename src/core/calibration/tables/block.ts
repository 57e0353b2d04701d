/**
 * A pasted block as a table: which row and which column are axes is found, falling axes are turned round and the turn is said, titles and
 * units around it are read and left out. What doesn't fit is refused with its row and column.
 */
import { InputError } from '../../input-error.ts';
import { rectangleOf, type NumberCell } from './rectangle.ts';
import { at, textGrid, type TextGrid } from './text-grid.ts';

export interface Orientation {
	/** `y-up`: the first row of the text has the highest y. */
	rows: 'y-up' | 'y-down';
	/** Columns of the text fall from left to right. */
	columnsFall: boolean;
	/** x runs down the rows. */
	transposed: boolean;
}

export interface PastedTable {
	/** Rising; `null` where the text has none. */
	x: number[] | null;
	y: number[] | null;
	/** One row per y (rising), one value per x (rising). */
	values: number[][];
	orientation: Orientation;
	/** Most decimals of a value, of a point of x, of a point of y: what the text can tell apart. */
	decimals: { values: number; x: number; y: number };
	/** Words around the table: titles, units, names of axes. */
	titles: string[];
	/** What was done to it, in words. */
	notes: string[];
}

export interface PastedScalar {
	name: string;
	value: number;
	unit: string;
}

export type Pasted = { table: PastedTable } | { scalars: PastedScalar[] };

/**
 * @param axes pasted on their own, each one row or one column; `none`: it is known to be a body alone
 * @throws InputError naming row and column of the pasted text
 */
export function readPasted(text: string, axes: { x?: string; y?: string; none?: boolean } = {}): Pasted {
	const grid = textGrid(text);
	const scalars = scalarsOf(grid);
	const apart = axes.x !== undefined || axes.y !== undefined || axes.none === true;
	if (scalars && !apart) return { scalars };
	return { table: withAxes(tableOf(grid, apart), axes) };
}

/** Lines of `name, value, unit`; `null` where it is a table. */
function scalarsOf({ cells, rowAt, columnAt }: TextGrid): PastedScalar[] | null {
	const lines = cells.flatMap((row, r) => {
		const kept = row.map((cell, c) => ({ cell, c })).filter(({ cell }) => cell.kind !== 'empty');
		return kept.length ? [{ kept, r }] : [];
	});
	const named = lines.every(({ kept }) => kept[0]!.cell.kind === 'text' && kept.length <= 3);
	if (!named || !lines.some(({ kept }) => kept[1]?.cell.kind === 'number')) return null;
	return lines.map(({ kept, r }) => {
		const [name, value, unit] = kept;
		if (!value)
			throw new InputError(
				`"${(name!.cell as { text: string }).text}" has no value beside it`,
				at(rowAt[r]!, columnAt[name!.c]!)
			);
		if (value.cell.kind !== 'number')
			throw new InputError(
				`"${(value.cell as { text: string }).text}" is not a number`,
				at(rowAt[r]!, columnAt[value.c]!)
			);
		return {
			name: (name!.cell as { text: string }).text,
			value: value.cell.value,
			unit: unit?.cell.kind === 'text' ? unit.cell.text : ''
		};
	});
}

const monotonic = (v: readonly number[]): 'rises' | 'falls' | null => {
	if (v.length < 2) return null;
	if (v.every((x, i) => i === 0 || x > v[i - 1]!)) return 'rises';
	return v.every((x, i) => i === 0 || x < v[i - 1]!) ? 'falls' : null;
};

/** How far a line stands from the one beside it, against how far the others stand from each other. */
function standsApart(lines: readonly (readonly number[])[]): number {
	const distance = (a: readonly number[], b: readonly number[]) =>
		a.reduce((s, v, i) => s + Math.abs(v - b[i]!), 0) / a.length;
	const own = distance(lines[0]!, lines[1]!);
	let others = 0;
	for (let i = 1; i + 1 < lines.length; i++) others += distance(lines[i]!, lines[i + 1]!);
	const usual =
		lines.length > 2
			? others / (lines.length - 2)
			: Math.abs(lines[1]!.reduce((s, v) => Math.max(s, Math.abs(v)), 0)) / 10;
	return own / Math.max(usual, 1e-9);
}

/** A first line that stands this much farther off than the others do from each other is an axis. */
const APART = 4;

/** @param bare its axes were pasted on their own: none is looked for */
function tableOf(grid: TextGrid, bare: boolean): PastedTable {
	const { numbers, rowAt, columnAt, openCorner, titles } = rectangleOf(grid);
	const notes: string[] = [];
	const value = (r: number, c: number) => numbers[r]![c]?.value ?? Number.NaN;
	const height = numbers.length;
	const width = numbers[0]!.length;
	const firstRow = (from: number) => numbers[0]!.slice(from).map((_, c) => value(0, c + from));
	const firstColumn = (from: number) => numbers.slice(from).map((_, r) => value(r + from, 0));
	let hasX = false;
	let hasY = false;
	if (openCorner) {
		hasX = hasY = true;
		axisOr(firstRow(1), (i) => at(rowAt[0]!, columnAt[i + 1]!));
		axisOr(firstColumn(1), (i) => at(rowAt[i + 1]!, columnAt[0]!));
	} else if (!bare && height > 1 && width > 1) {
		const rows = (from: number) => numbers.map((row, r) => row.slice(from).map((_, c) => value(r, c + from)));
		const columns = (from: number) =>
			numbers[0]!.map((_, c) => numbers.slice(from).map((__, r) => value(r + from, c)));
		if (height === 2 && monotonic(firstRow(0)) && (width > 2 || standsApart(rows(0)) > APART)) hasX = true;
		else if (width === 2 && monotonic(firstColumn(0)) && (height > 2 || standsApart(columns(0)) > APART))
			hasY = true;
		else {
			// With both, the corner belongs to neither: each is judged without it.
			const x = monotonic(firstRow(1)) !== null && height > 2 && standsApart(rows(1)) > APART;
			const y = monotonic(firstColumn(1)) !== null && width > 2 && standsApart(columns(1)) > APART;
			if (x && y) hasX = hasY = true;
			else if (x && monotonic(firstRow(0)) && standsApart(rows(0)) > APART) hasX = true;
			else if (y && monotonic(firstColumn(0)) && standsApart(columns(0)) > APART) hasY = true;
		}
		if (hasX && hasY) notes.push('the corner holds a number, which belongs to neither axis');
	}
	const r0 = hasX ? 1 : 0;
	const c0 = hasY ? 1 : 0;
	const body = numbers.slice(r0).map((row) => row.slice(c0) as NumberCell[]);
	const most = (cells: readonly (NumberCell | null)[]) =>
		cells.reduce((m, c) => Math.max(m, c?.decimals ?? 0), 0);
	let x = hasX ? firstRow(c0) : null;
	let y = hasY ? firstColumn(r0) : null;
	let values = body.map((row) => row.map((c) => c.value));
	const decimals = {
		values: most(body.flat()),
		x: hasX ? most(numbers[0]!.slice(c0)) : 0,
		y: hasY ? most(numbers.slice(r0).map((row) => row[0]!)) : 0
	};
	// A table of two columns is a curve that runs down: points at the left, values beside them.
	let transposed = false;
	if (hasY && !hasX && values[0]!.length === 1) {
		x = y;
		y = null;
		values = [values.map((row) => row[0]!)];
		transposed = true;
		[decimals.x, decimals.y] = [decimals.y, 0];
		notes.push('a curve written downwards');
	}
	const orientation: Orientation = { rows: 'y-down', columnsFall: false, transposed };
	if (y && monotonic(y) === 'falls') {
		y.reverse();
		values.reverse();
		orientation.rows = 'y-up';
		notes.push('the first row has the highest point: turned round');
	}
	if (x && monotonic(x) === 'falls') {
		x.reverse();
		values = values.map((row) => row.toReversed());
		orientation.columnsFall = true;
		notes.push('the first column has the highest point: turned round');
	}
	if (grid.decimalComma) notes.push('decimal commas');
	return { x, y, values, orientation, decimals, titles: titles.slice(0, 20), notes };
}

function axisOr(points: readonly number[], place: (i: number) => string): void {
	if (points.length < 2 || monotonic(points)) return;
	const up = points[1]! > points[0]!;
	const i = points.findIndex((p, k) => k > 0 && (up ? p <= points[k - 1]! : p >= points[k - 1]!));
	throw new InputError(
		`the points of the axis neither rise nor fall: ${points[i]} comes after ${points[i - 1]}`,
		place(i)
	);
}

/** One row or one column of points. */
function axisFrom(text: string, name: 'x' | 'y'): { points: number[]; decimals: number; falls: boolean } {
	const grid = textGrid(text);
	const { numbers, rowAt, columnAt } = rectangleOf(grid);
	const along =
		numbers.length === 1 ? numbers[0]! : numbers[0]!.length === 1 ? numbers.map((r) => r[0]!) : null;
	if (!along)
		throw new InputError(
			`the ${name} axis is one row or one column, not ${numbers.length} × ${numbers[0]!.length}`
		);
	const cells = along as NumberCell[];
	const points = cells.map((c) => c.value);
	axisOr(points, (i) => (numbers.length === 1 ? at(rowAt[0]!, columnAt[i]!) : at(rowAt[i]!, columnAt[0]!)));
	const falls = monotonic(points) === 'falls';
	return {
		points: falls ? points.toReversed() : points,
		decimals: cells.reduce((m, c) => Math.max(m, c.decimals), 0),
		falls
	};
}

/** Axes that were pasted on their own, laid to a body. */
function withAxes(table: PastedTable, axes: { x?: string; y?: string }): PastedTable {
	const out = {
		...table,
		decimals: { ...table.decimals },
		orientation: { ...table.orientation },
		notes: [...table.notes]
	};
	const given = {
		x: axes.x === undefined ? null : axisFrom(axes.x, 'x'),
		y: axes.y === undefined ? null : axisFrom(axes.y, 'y')
	};
	if ((given.x && table.x) || (given.y && table.y))
		throw new InputError('the table has its axes in it already: paste them once, with it or on their own');
	const [height, width] = [table.values.length, table.values[0]!.length];
	const nx = given.x?.points.length ?? width;
	const ny = given.y?.points.length ?? height;
	if (nx !== width || ny !== height) {
		if (nx === height && ny === width && (given.x || given.y)) {
			out.values = table.values[0]!.map((_, c) => table.values.map((row) => row[c]!));
			out.orientation.transposed = true;
			out.notes.push('x runs down the rows: turned');
		} else
			throw new InputError(
				`the body has ${height} rows of ${width}, the axes ${given.y ? `${ny} points of y` : ''}${given.x && given.y ? ' and ' : ''}${given.x ? `${nx} points of x` : ''}`,
				ny !== height ? `row ${Math.min(ny, height) + 1}` : `column ${Math.min(nx, width) + 1}`
			);
	}
	if (given.y) {
		out.y = given.y.points;
		out.decimals.y = given.y.decimals;
		if (given.y.falls) {
			out.values = out.values.toReversed();
			out.orientation.rows = 'y-up';
			out.notes.push('the first row has the highest point: turned round');
		}
	}
	if (given.x) {
		out.x = given.x.points;
		out.decimals.x = given.x.decimals;
		if (given.x.falls) {
			out.values = out.values.map((row) => row.toReversed());
			out.orientation.columnsFall = true;
			out.notes.push('the first column has the highest point: turned round');
		}
	}
	return out;
}

/** The same with x and y changed over. */
export function turned(t: PastedTable): PastedTable {
	return {
		...t,
		x: t.y,
		y: t.x,
		values: t.values[0]!.map((_, c) => t.values.map((row) => row[c]!)),
		decimals: { values: t.decimals.values, x: t.decimals.y, y: t.decimals.x },
		orientation: {
			rows: t.orientation.columnsFall ? 'y-up' : 'y-down',
			columnsFall: t.orientation.rows === 'y-up',
			transposed: !t.orientation.transposed
		},
		notes: [...t.notes, 'x runs down the rows: turned']
	};
}
