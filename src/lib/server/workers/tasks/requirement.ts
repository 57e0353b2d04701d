/** What the engine wants of the table of a revision, by the logs given. */
import { requirementCsv } from '$core/correction/export.ts';
import { DEFAULT_STRATEGY } from '$core/correction/strategy.ts';
import { requirementView } from '$core/correction/view.ts';
import { proposeWith } from '$core/revising/revise.ts';
import type { ProposeTask } from './propose.ts';
import { evidenceOf, revisionInVehicle } from './stored.ts';
import { task } from './task.ts';

export const requirement = task(async ({ logIds, revisionId, strategy }: ProposeTask, db) => {
	const { calibration } = await revisionInVehicle(db, revisionId);
	const evidence = await evidenceOf(db, logIds);
	const { requirement: r, proposal } = proposeWith(evidence, strategy ?? DEFAULT_STRATEGY, calibration);
	return {
		requirement: r && requirementView(r),
		csv: r ? requirementCsv(r) : '',
		next: proposal.next ?? []
	};
});
