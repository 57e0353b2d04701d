/** What a draft holds at one moment, as its editor and the server exchange it. */
import type { Item } from '$core/calibration/document';
import type { DraftEdit } from '$core/revising/edit-schema';
import type { DraftChange } from '$core/revising/edit-schema';

export type Cells = ReadonlyMap<string, DraftChange>;
export type Edits = ReadonlyMap<string, DraftEdit>;
export interface Snapshot {
	cells: Cells;
	edits: Edits;
	/** Proposed cells that were decided against, by their key. */
	rejected: ReadonlySet<string>;
}

export interface Cell {
	x: number;
	y: number;
}

/** What became of a proposal so far, in cells. */
export interface Decided {
	accepted: number;
	/** Another value than was proposed. */
	byHand: number;
	rejected: number;
	open: DraftChange[];
}

/** What the server says to a save. */
export interface SaveAnswer {
	changedElsewhere: boolean;
	version: number;
	/** What is stored, where another save came first. */
	changes?: DraftChange[];
	edits?: DraftEdit[];
	rejected?: string[];
}

export const cellKey = (item: string, x: number, y: number): string => `${item}|${x}|${y}`;

export function snapshotOf(
	changes: readonly DraftChange[],
	edits: readonly DraftEdit[],
	rejected: readonly string[]
): Snapshot {
	return {
		cells: new Map(changes.map((c) => [cellKey(c.item, c.x, c.y), c])),
		edits: new Map(edits.map((e) => [e.item, e])),
		rejected: new Set(rejected)
	};
}

export const sameContent = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

export function sameSnapshot(a: Snapshot, b: Snapshot): boolean {
	const alike = <T>(x: ReadonlyMap<string, T>, y: ReadonlyMap<string, T>) =>
		x.size === y.size && [...x].every(([key, v]) => sameContent(v, y.get(key)));
	const decided = a.rejected.size === b.rejected.size && [...a.rejected].every((k) => b.rejected.has(k));
	return decided && alike(a.cells, b.cells) && alike(a.edits, b.edits);
}

/** Value of a cell in an item of the parent; NaN where it has no such cell. */
export function valueIn(item: Item | undefined, cell: Cell): number {
	if (item?.kind === 'scalar') return item.value;
	if (item?.kind === 'curve') return item.values[item.x.points.indexOf(cell.x)] ?? Number.NaN;
	if (item?.kind === 'map')
		return item.values[item.y.points.indexOf(cell.y)]?.[item.x.points.indexOf(cell.x)] ?? Number.NaN;
	return Number.NaN;
}

/** How long a step rests before it is sent: the next one may go with it. */
export const SAVE_AFTER_MS = 400;

/**
 * Saves a draft as it is here.
 * @param version the one that it was made on
 * @throws where the server refuses it, in its words
 */
export async function sendSnapshot(
	revisionId: number,
	jobId: number,
	version: number,
	{ cells, edits, rejected }: Snapshot
): Promise<SaveAnswer> {
	const answer = await fetch(`/api/v1/revisions/${revisionId}/changes`, {
		method: 'PUT',
		headers: { 'content-type': 'application/json' },
		body: JSON.stringify({
			job: jobId,
			version,
			changes: [...cells.values()],
			edits: [...edits.values()],
			rejected: [...rejected]
		})
	});
	const said = (await answer.json().catch(() => ({}))) as Partial<SaveAnswer> & { message?: string };
	if (answer.status === 409) return { ...(said as SaveAnswer), changedElsewhere: true };
	if (!answer.ok) throw new Error(said.message ?? `the server answered ${answer.status}`);
	return { ...(said as SaveAnswer), changedElsewhere: false };
}
