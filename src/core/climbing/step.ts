/** A rung of the ladder, and its changes of the revision. Each changes one kind of thing, and none of them is ever taken by itself. */
import type { CellChange, ItemProposal } from '../revising/proposal.ts';

export interface Rung {
	kind: 'fuel' | 'banks' | 'boost' | 'timing' | 'done';
	/** Largest set point (kPa) or timing (°) that the rung touches, before and after; `null` where it has none. */
	from: number | null;
	to: number | null;
}

/** The rung asks more of the engine than before: a person's decision, with a reason in writing. Fuel, and what comes out again, needs none. */
export const climbs = (r: Rung): boolean => r.kind === 'boost' || (r.kind === 'timing' && r.to! > r.from!);

export interface Step {
	rung: Rung;
	changes: ItemProposal[];
	/** How it is driven, where no table sets it. */
	drive?: string;
}

/** A change of a cell that nothing was measured in. */
export const carriedCell = (x: number, y: number, from: number, to: number): CellChange => ({
	x,
	y,
	from,
	to,
	basis: 'carried',
	samples: 0,
	se: null
});
