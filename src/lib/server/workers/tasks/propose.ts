/** What logs propose for a revision. */
import type { Strategy } from '$core/correction/strategy.ts';
import { propose as proposeFrom } from '$core/revising/revise.ts';
import { evidenceOf, revisionInVehicle } from './stored.ts';
import { task, type Place } from './task.ts';

export interface ProposeTask extends Place {
	/** Logs that may speak: of the revision itself, and of others. */
	logIds: number[];
	/** The revision that is to be changed. */
	revisionId: number;
	strategy?: Strategy;
}

export const propose = task(async ({ logIds, revisionId, strategy }: ProposeTask, db) => {
	const { calibration } = await revisionInVehicle(db, revisionId);
	return { proposal: proposeFrom(await evidenceOf(db, logIds), strategy, calibration) };
});
