/** A log as it would have been with another revision. */
import { parseCalibration, type Calibration } from '$core/calibration/document.ts';
import { findItem } from '$core/calibration/lookup.ts';
import { isTable } from '$core/calibration/formats/csv.ts';
import { proposalSchema, type Proposal } from '$core/revising/proposal.ts';
import { replay as replayWith } from '$core/revising/replay.ts';
import { withChanges } from '$core/revising/changes.ts';
import { preparedLog } from './stored.ts';
import { task, type Place } from './task.ts';

export interface ReplayTask extends Place {
	logId: number;
	/** The revision to replay it with. */
	revisionId: number;
	/** With everything that is proposed for it, accepted or not. */
	withProposal?: boolean;
}

export const replay = task(async ({ logId, revisionId, withProposal }: ReplayTask, db) => {
	const row = await db
		.selectFrom('revisions')
		.select(['document', 'proposal'])
		.where('id', '=', revisionId)
		.executeTakeFirstOrThrow();
	const draft = parseCalibration(JSON.parse(row.document));
	const next =
		withProposal && row.proposal
			? withChanges(draft, fitting(draft, proposalSchema.parse(JSON.parse(row.proposal))))
			: draft;
	return { replay: replayWith(await preparedLog(db, logId), next) };
});

/** Proposed changes whose cells the draft still has: on other axes some are gone. */
function fitting(draft: Calibration, { changes }: Proposal) {
	return changes.map(({ item, cells }) => {
		const own = findItem(draft, item);
		return {
			item,
			cells: isTable(own)
				? cells.filter(
						(c) => own.x.points.includes(c.x) && (own.kind === 'curve' || own.y.points.includes(c.y))
					)
				: cells
		};
	});
}
