/** Proposed cells gathered into regions that hang together: what a tuner accepts at once, with one reason. */
import type { Item } from '../calibration/document.ts';
import { PLACE_ORDER, type Place } from './places.ts';
import type { CellChange } from './proposal.ts';

export interface Region {
	/** Where it is, in what a tuner would say; `null` where the axes don't tell. */
	place: Place | null;
	cells: CellChange[];
	/** The value rises in all of them, or falls in all. */
	up: boolean;
	/** Mean change, percent of the old values; null where an old value is zero. */
	meanPct: number | null;
	/** Mean change in the unit of the item. */
	mean: number;
	x: [number, number];
	y: [number, number];
	/** Cells that a sample stands behind, the others are carried. */
	measured: number;
}

/**
 * Cells of one place whose change has one sign, in the order of driving. Where the axes don't tell the place: cells side by side (also
 * corner to corner), the largest region first.
 * @param item whose axes say which cells lie side by side
 */
export function regionsOf(
	item: Item,
	cells: readonly CellChange[],
	places: ((cell: { x: number; y: number }) => Place) | null = null
): Region[] {
	if (item.kind === 'setting' || item.kind === 'scalar') return cells.length ? [regionOf(cells, null)] : [];
	if (places)
		return PLACE_ORDER.flatMap((place) =>
			[true, false].flatMap((up) => {
				const own = cells.filter((c) => places(c) === place && c.to > c.from === up);
				return own.length ? [regionOf(own, place)] : [];
			})
		);
	const column = new Map(item.x.points.map((p, i) => [p, i]));
	const row = new Map((item.kind === 'map' ? item.y.points : [0]).map((p, i) => [p, i]));
	const key = (c: number, r: number, up: boolean) => `${c} ${r} ${up ? '+' : '-'}`;
	const place = (cell: CellChange) => [column.get(cell.x) ?? -9, row.get(cell.y) ?? -9] as const;
	const waiting = new Map(cells.map((cell) => [key(...place(cell), cell.to > cell.from), cell]));
	const out: Region[] = [];
	for (const [first, start] of waiting) {
		if (!waiting.delete(first)) continue;
		const up = start.to > start.from;
		const members = [start];
		for (let next = 0; next < members.length; next++) {
			const [c, r] = place(members[next]!);
			for (let dc = -1; dc <= 1; dc++)
				for (let dr = -1; dr <= 1; dr++) {
					const k = key(c + dc, r + dr, up);
					const found = waiting.get(k);
					if (!found) continue;
					waiting.delete(k);
					members.push(found);
				}
		}
		out.push(regionOf(members, null));
	}
	return out.sort((a, b) => b.cells.length - a.cells.length);
}

function regionOf(cells: readonly CellChange[], place: Place | null): Region {
	const span = (of: (c: CellChange) => number): [number, number] => {
		const all = cells.map(of);
		return [Math.min(...all), Math.max(...all)];
	};
	const mean = (of: (c: CellChange) => number) => cells.reduce((s, c) => s + of(c), 0) / cells.length;
	return {
		place,
		cells: [...cells],
		up: cells[0]!.to > cells[0]!.from,
		mean: mean((c) => c.to - c.from),
		meanPct: cells.some((c) => c.from === 0) ? null : mean((c) => 100 * (c.to / c.from - 1)),
		x: span((c) => c.x),
		y: span((c) => c.y),
		measured: cells.filter((c) => c.basis === 'measured').length
	};
}
