/** The steps of a draft in this window, kept over a reload: undo and redo go on where they were. */
import { sameSnapshot, snapshotOf, type Snapshot } from './snapshot';

export interface History {
	steps: Snapshot[];
	/** Which of them stands. */
	at: number;
}

/** Of so many steps the newest are kept: a window's storage is small. */
const MOST_STEPS = 40;
const nameOf = (revisionId: number) => `draft-${revisionId}`;

interface Stored {
	version: number;
	at: number;
	steps: { changes: unknown[]; edits: unknown[]; rejected: string[] }[];
}

/** A full or forbidden storage costs the undo of before the reload, nothing else. */
export function keepHistory(
	storage: Pick<Storage, 'setItem'>,
	revisionId: number,
	version: number,
	{ steps, at }: History
): void {
	const from = Math.max(0, Math.min(at, steps.length - MOST_STEPS));
	const kept = steps.slice(from, from + MOST_STEPS);
	const stored: Stored = {
		version,
		at: at - from,
		steps: kept.map((s) => ({
			changes: [...s.cells.values()],
			edits: [...s.edits.values()],
			rejected: [...s.rejected]
		}))
	};
	try {
		storage.setItem(nameOf(revisionId), JSON.stringify(stored));
	} catch {
		// Nothing is lost that was saved.
	}
}

/**
 * @param stored what the server has
 * @returns `null` where nothing is kept, or something else was saved since
 */
export function historyOf(
	storage: Pick<Storage, 'getItem'>,
	revisionId: number,
	version: number,
	stored: Snapshot
): History | null {
	try {
		const kept = JSON.parse(storage.getItem(nameOf(revisionId)) ?? 'null') as Stored | null;
		if (kept?.version !== version) return null;
		const steps = kept.steps.map((s) =>
			snapshotOf(
				s.changes as Parameters<typeof snapshotOf>[0],
				s.edits as Parameters<typeof snapshotOf>[1],
				s.rejected
			)
		);
		const now = steps[kept.at];
		if (!now || !sameSnapshot(now, stored)) return null;
		// What stands is what the server gave, so that nothing seems unsaved.
		return { steps: steps.map((s, i) => (i === kept.at ? stored : s)), at: kept.at };
	} catch {
		return null;
	}
}
