/** A pasted block into a table that exists: by axis values, never by position; other axes are resampled only when asked for. */
import { plural } from '../../format.ts';
import { InputError } from '../../input-error.ts';
import type { CurveItem, MapItem } from '../document.ts';
import { Surface } from '../grid.ts';
import { readPasted, turned, type PastedTable } from './block.ts';

export interface Pasted {
	cells: { x: number; y: number; to: number }[];
	/** All cells of the table, some of them, or values read off other axes. */
	how: 'whole' | 'part' | 'resampled';
	/** Largest change, in the unit of the table. */
	greatest: number;
	notes: string[];
}

/** Index of each pasted point on an axis, at the decimals of the text; `null` where one isn't on it. */
function placesOn(
	points: readonly number[] | null,
	axis: readonly number[],
	decimals: number
): number[] | null {
	if (!points) return null;
	const reach = 0.5 * 10 ** -decimals + 1e-9;
	const out = points.map((p) => axis.findIndex((a) => Math.abs(a - p) <= reach));
	return out.includes(-1) ? null : out;
}

/**
 * @param item the table as it is now
 * @throws InputError where the text is no table, or is a body of another size than the table
 */
export function pasteInto(item: MapItem | CurveItem, text: string): Pasted {
	const read = readPasted(text);
	if ('scalars' in read) throw new InputError('single values were pasted; this is a table');
	const ys = item.kind === 'map' ? item.y.points : [0];
	const rows = item.kind === 'map' ? item.values : [item.values];
	const now = (r: number, c: number) => rows[r]![c]!;
	const result = (
		cells: { r: number; c: number; to: number }[],
		how: Pasted['how'],
		notes: string[]
	): Pasted => ({
		cells: cells.map(({ r, c, to }) => ({ x: item.x.points[c]!, y: ys[r]!, to })),
		how,
		greatest: cells.reduce(
			(m, { r, c, to }) => (Math.abs(to - now(r, c)) > Math.abs(m) ? to - now(r, c) : m),
			0
		),
		notes
	});
	const direct = (t: PastedTable): Pasted | null => {
		const columns = placesOn(t.x, item.x.points, t.decimals.x);
		const lines = item.kind === 'map' ? placesOn(t.y, ys, t.decimals.y) : t.values.length === 1 ? [0] : null;
		if (!columns || !lines) return null;
		const cells = t.values.flatMap((row, k) => row.map((to, l) => ({ r: lines[k]!, c: columns[l]!, to })));
		return result(cells, cells.length === rows.length * item.x.points.length ? 'whole' : 'part', t.notes);
	};
	const { table } = read;
	const known = table.x || table.y ? (direct(table) ?? direct(turned(table))) : null;
	if (known) return known;
	// What looks like an axis may be the first row of a body, unless an empty corner says that it is one.
	const bare = readPasted(text, { none: true });
	const body = 'table' in bare && !bare.table.x && !bare.table.y ? bare.table : null;
	if (body && (!table.x || (item.kind === 'map' && !table.y))) {
		if (body.values.length !== rows.length || body.values[0]!.length !== item.x.points.length)
			throw new InputError(
				`${body.values.length} × ${body.values[0]!.length} cells without axes, the table has ${rows.length} × ${item.x.points.length}: copy it with its axes, so that it is known where it belongs`
			);
		// As it is shown: the highest row on top.
		const cells = body.values.flatMap((row, k) => row.map((to, c) => ({ r: rows.length - 1 - k, c, to })));
		return result(cells, 'whole', ['without axes: the first row is taken as the highest']);
	}
	return resampled(item, table, result);
}

function resampled(
	item: MapItem | CurveItem,
	t: PastedTable,
	result: (cells: { r: number; c: number; to: number }[], how: Pasted['how'], notes: string[]) => Pasted
): Pasted {
	const ys = item.kind === 'map' ? item.y.points : [0];
	if (!t.x || (item.kind === 'map' && !t.y))
		throw new InputError(
			'one of its axes is missing, and it is not the size of the table: copy it with both axes'
		);
	const y = item.kind === 'map' ? t.y! : [0];
	const surface = new Surface(t.x, y, t.values);
	const inside = (axis: readonly number[], v: number) => v >= axis[0]! && v <= axis.at(-1)!;
	const cells = ys.flatMap((py, r) =>
		item.x.points.flatMap((px, c) =>
			inside(t.x!, px) && (item.kind !== 'map' || inside(y, py)) ? [{ r, c, to: surface.at(px, py) }] : []
		)
	);
	if (cells.length === 0) throw new InputError('none of its points lies within the axes of the table');
	return result(cells, 'resampled', [
		`other axes: ${plural(cells.length, 'cell')} read off between its points`
	]);
}
