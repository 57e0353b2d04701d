/** What a reading of the plugs asks for, and its trims as proposals of a draft. */
import { sameItem } from '$core/calibration/compare.ts';
import { findItem } from '$core/calibration/lookup.ts';
import { InputError } from '$core/input-error.ts';
import { FUEL_TRIM, KINDS, type PlugAnswer } from '$core/plugs/judge.ts';
import { proposalsOf } from '$core/plugs/trimmed.ts';
import type { Proposal } from '$core/revising/proposal.ts';
import type { App } from '$lib/server/context.ts';
import type { Db } from '$lib/server/db/open.ts';
import { workshopSetting } from '$lib/server/jobs/workshop.ts';
import type { PlugRecord } from '$lib/server/jobs/plug-readings.ts';
import { layBeside, proposalBase, revision } from '$lib/server/revisions/revisions.ts';

const TRIMS = [FUEL_TRIM, 'spark.cylTrim'];

/** What a reading asks for. @throws InputError for a cylinder that the engine doesn't have */
export async function answerOf(
	app: Pick<App, 'db' | 'pool' | 'dataDir'>,
	record: PlugRecord
): Promise<PlugAnswer> {
	const { cylinderEvidence } = await workshopSetting(app.db, 'ways');
	const answer = await app.pool.run('plugs', {
		dataDir: app.dataDir,
		plugs: record.plugs,
		revisionId: record.revisionId,
		logId: record.logId,
		// The workshop's own first; the rest in the usual order.
		rank: [cylinderEvidence, ...KINDS.filter((k) => k !== cylinderEvidence)]
	});
	if (!answer.ok) throw new InputError(answer.message);
	return answer.answer;
}

/**
 * Trims of a reading as proposals: in the draft that there is, else in a new one from the newest revision.
 * @returns id of the draft
 * @throws InputError where nothing is to be changed, or the draft is of another revision
 */
export async function proposePlugs(
	app: Pick<App, 'db' | 'pool' | 'dataDir'>,
	jobId: number,
	record: PlugRecord
): Promise<number> {
	const baseId = await proposalBase(app.db, jobId);
	await refuseOtherTrims(app.db, record.revisionId, baseId);
	const answer = await answerOf(app, record);
	if (answer.changes.length === 0) throw new InputError('this reading asks for no change');
	const proposal: Proposal = {
		changes: proposalsOf(answer.changes),
		held: answer.held.map((h) => ({
			item: FUEL_TRIM,
			reason: h.cylinder === null ? h.reason : `Cylinder ${h.cylinder}: ${h.reason}`
		}))
	};
	const logs = record.logId === null ? [] : [record.logId];
	return layBeside(app.db, jobId, baseId, proposal, logs);
}

/** What plugs ask for is added to the trims that they were driven with. @throws InputError where the newest revision has others */
async function refuseOtherTrims(db: Db, drivenId: number, baseId: number): Promise<void> {
	if (drivenId === baseId) return;
	const [driven, base] = [(await revision(db, drivenId))!, (await revision(db, baseId))!];
	const same = TRIMS.every((id) =>
		sameItem(findItem(driven.calibration, id), findItem(base.calibration, id))
	);
	if (!same)
		throw new InputError(
			`the trims of the cylinders are others in R${base.number} than in R${driven.number}, which these plugs were driven with: read a new set after driving with R${base.number}`
		);
}
