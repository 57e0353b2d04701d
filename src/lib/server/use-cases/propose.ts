/** What a log asks for is laid beside a draft: nothing of it is accepted. */
import { injectorsDiffer } from '$core/calibration/effective-fuel.ts';
import { DEFAULT_STRATEGY, type Strategy } from '$core/correction/strategy.ts';
import { InputError } from '$core/input-error.ts';
import type { App } from '$lib/server/context.ts';
import type { Db } from '$lib/server/db/open.ts';
import { speakingFor } from '$lib/server/logs/log-selection.ts';
import type { LogLine } from '$lib/server/logs/logs.ts';
import { layBeside, proposalBase, revision, type Revision } from '$lib/server/revisions/revisions.ts';
import { workshopSetting } from '$lib/server/jobs/workshop.ts';
import { saveSetting, setting } from '$lib/server/jobs/settings.ts';

/** Whether a revision has other injector data than the one that it was made from. */
async function newInjectors(db: Db, made: Revision | null): Promise<boolean> {
	const parent = made?.parentId ? await revision(db, made.parentId) : null;
	return made && parent ? injectorsDiffer(parent.calibration, made.calibration) : false;
}

/** Whether injector data are corrected before the table: by the workshop's way, and always after a change of injectors. */
export async function injectorsFirst(db: Db, made: Revision | null): Promise<boolean> {
	return (await workshopSetting(db, 'ways')).fuelFirst === 'injectors' || newInjectors(db, made);
}

/**
 * Proposes the next revision from a log, and from those that speak with it.
 * @param strategy what was set for it, kept for this tuner; `null` for what was set last
 * @returns id of the draft
 */
export async function proposeFromLog(
	{ db, dataDir, pool }: Pick<App, 'db' | 'dataDir' | 'pool'>,
	tunerId: string,
	log: LogLine,
	strategy: Strategy | null
): Promise<number> {
	if (log.state !== 'screened') throw new InputError('the log is not screened yet');
	// Which injectors are in the car is a matter of the revision, not of the tuner's habits.
	if (strategy) await saveSetting(db, tunerId, 'strategy', { ...strategy, injectors: false });
	const wanted = strategy ?? {
		...((await setting(db, tunerId, 'strategy')) ?? DEFAULT_STRATEGY),
		injectors: await injectorsFirst(db, await revision(db, log.revisionId))
	};
	const logIds = await speakingFor(db, log.jobId, log.id);
	const baseId = await proposalBase(db, log.jobId);
	const answer = await pool.run('propose', { dataDir, logIds, revisionId: baseId, strategy: wanted });
	if (!answer.ok) throw new InputError(answer.message);
	const { silent = [] } = answer.proposal;
	const spoke = logIds.filter((_, n) => !silent.some((s) => s.log === n));
	return layBeside(db, log.jobId, baseId, answer.proposal, spoke);
}
