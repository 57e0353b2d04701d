/** Cliffs: neighbouring cells of a table that a change has set farther apart than an engine can want. */
import { fixed } from '../format.ts';
import type { Calibration } from '../calibration/document.ts';
import { findItem } from '../calibration/lookup.ts';
import { itemConversion } from '../calibration/item-units.ts';
import { itemKind, titleOf } from '../calibration/items.ts';
import { inChannelsOf, resampled, rowsOf, sameAxis } from '../calibration/resample.ts';

export interface Cliff {
	item: string;
	title: string;
	why: string;
}

/** A step that was steep before is a new cliff only when the change made it steeper by this share of the tolerance. */
const GREW = 0.1;

/** The steepest new cliff of each table that has one; a step that was there before the change is nobody's cliff. */
export function cliffsOf(parent: Calibration, draft: Calibration): Cliff[] {
	return draft.items.flatMap((item): Cliff[] => {
		const tolerance = itemKind(item.id)?.cliff;
		const old = findItem(parent, item.id);
		if (!tolerance || (item.kind !== 'map' && item.kind !== 'curve') || old?.kind !== item.kind) return [];
		if (old.kind !== 'map' && old.kind !== 'curve') return [];
		const rows = rowsOf(item);
		// On other axes the old surface is looked up at the new points: a finer axis makes no new cliff.
		const there = inChannelsOf(old, item);
		const same = resampled(there, sameAxis(item.x), item.kind === 'map' ? sameAxis(item.y) : null);
		const before = rowsOf(same);
		// What is too much is told in the unit of the item; the document may keep another.
		const { scale } = itemConversion(item, 0);
		const step = (a: number, b: number) =>
			tolerance.relative
				? 100 * (Math.max(a, b) / Math.max(1e-9, Math.min(a, b)) - 1)
				: scale * Math.abs(a - b);
		let worst: { by: number; was: number; at: string } | null = null;
		const look = (r: number, c: number, rr: number, cc: number) => {
			const by = step(rows[r]![c]!, rows[rr]![cc]!);
			const was = step(before[r]![c]!, before[rr]![cc]!);
			if (by <= tolerance.by || by <= was + GREW * tolerance.by || (worst && by <= worst.by)) return;
			const place = (row: number, column: number) =>
				item.kind === 'map'
					? `${item.x.points[column]} / ${item.y.points[row]}`
					: String(item.x.points[column]);
			worst = { by, was, at: `${place(r, c)} and ${place(rr, cc)}` };
		};
		rows.forEach((row, r) =>
			row.forEach((_, c) => {
				if (c + 1 < row.length) look(r, c, r, c + 1);
				if (r + 1 < rows.length) look(r, c, r + 1, c);
			})
		);
		if (!worst) return [];
		const { by, was, at } = worst as { by: number; was: number; at: string };
		const { digits } = tolerance;
		return [
			{
				item: item.id,
				title: titleOf(item),
				why: `${fixed(by, digits)} ${tolerance.unit} between ${at}, ${fixed(was, digits)} before; the tolerance is ${tolerance.by} ${tolerance.unit}`
			}
		];
	});
}
