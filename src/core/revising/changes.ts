/** Changes of cells, and a calibration with them. Apart from what proposes them: the page of a draft needs no screening. */
import type { Calibration } from '../calibration/document.ts';
import { InputError } from '../input-error.ts';
import type { DraftChange } from './edit-schema.ts';
import type { CellChange } from './proposal.ts';

/** A change that no log stands behind. */
export function byHand(
	item: string,
	{ x, y }: { x: number; y: number },
	from: number,
	to: number,
	reason: string
): DraftChange {
	return { item, x, y, from, to, basis: 'hand', samples: 0, se: null, reason, findings: [] };
}

type Target = Pick<CellChange, 'x' | 'y' | 'to'>;

/** Changes by item, as `withChanges` takes them. */
export function grouped(changes: readonly DraftChange[]): { item: string; cells: Target[] }[] {
	const byItem = new Map<string, Target[]>();
	for (const c of changes) {
		const cells = byItem.get(c.item);
		if (cells) cells.push(c);
		else byItem.set(c.item, [c]);
	}
	return [...byItem].map(([item, cells]) => ({ item, cells }));
}

/**
 * The calibration with changes applied; the given one is left as it is.
 * @throws InputError when a change names a cell that the calibration doesn't have
 */
export function withChanges(
	calibration: Calibration,
	changes: readonly { item: string; cells: readonly Target[] }[]
): Calibration {
	const next = structuredCopy(calibration);
	for (const change of changes) {
		const item = next.items.find((i) => i.id === change.item);
		if (!item || item.kind === 'setting') throw new InputError(`no table is called "${change.item}"`);
		for (const cell of change.cells) {
			if (item.kind === 'scalar') {
				item.value = cell.to;
				continue;
			}
			const c = item.x.points.indexOf(cell.x);
			const r = item.kind === 'map' ? item.y.points.indexOf(cell.y) : 0;
			if (c < 0 || r < 0) throw new InputError(`${change.item} has no cell at ${cell.x} / ${cell.y}`);
			if (item.kind === 'map') item.values[r]![c] = cell.to;
			else item.values[c] = cell.to;
		}
	}
	return next;
}

/** Calibrations are plain JSON: a round trip copies them faithfully. */
export function structuredCopy(calibration: Calibration): Calibration {
	return JSON.parse(JSON.stringify(calibration)) as Calibration;
}
