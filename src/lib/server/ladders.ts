/** The ladder of a job: the rung that comes next from the revision that should be in the car, its newest logs and the goal. */
import { InputError } from '../../core/input-error.ts';
import type { LadderAnswer } from '../../core/climbing/ladder.ts';
import type { App } from './context.ts';
import { goalOf } from './goals.ts';
import { logsOf } from './logs.ts';
import { plugsOf } from './plugs.ts';
import { standingFor, swapsOf } from './swaps.ts';
import { createDraft, currentRevision, revision, revisionsOf, takeProposal } from './revisions.ts';

/** Logs that a rung is judged by, at most: the newest of the revision. */
const MOST_LOGS = 4;

export interface JobLadder {
	answer: LadderAnswer;
	revision: { id: number; number: number };
	/** The newest last. */
	logs: { id: number; title: string }[];
}

/** @throws InputError where a fact is missing */
export async function ladderOfJob(
	app: Pick<App, 'db' | 'dataDir' | 'pool'>,
	jobId: number
): Promise<JobLadder> {
	const { id, number } = await currentRevision(app.db, jobId);
	const logs = (await logsOf(app.db, jobId))
		.filter((l) => l.state === 'screened' && l.takenOut === null && l.revisionId === id && l.kind === 'drive')
		.slice(-MOST_LOGS);
	const plugs = (await plugsOf(app.db, jobId)).find((p) => p.revisionId === id);
	const answer = await app.pool.ladder({
		dataDir: app.dataDir,
		logIds: logs.map((l) => l.id),
		revisionId: id,
		goal: await goalOf(app.db, jobId),
		plugs: plugs?.plugs ?? null,
		banksSeen: standingFor(await swapsOf(app.db, jobId), 'bank.unseen')?.seen ?? null
	});
	if (!answer.ok) throw new InputError(answer.message);
	return {
		answer: answer.answer,
		revision: { id, number },
		logs: logs.map(({ id: log, title }) => ({ id: log, title }))
	};
}

/**
 * The rung, or the shifts or the throttle beside it, as proposals of a draft: nothing of it is accepted.
 * @returns id of the draft
 * @throws InputError where a gate is closed, or there is nothing to climb
 */
export async function proposeRung(
	app: Pick<App, 'db' | 'dataDir' | 'pool'>,
	jobId: number,
	what: 'rung' | 'shifts' | 'throttle' = 'rung'
): Promise<number> {
	const { answer, revision: at, logs } = await ladderOfJob(app, jobId);
	const { changes } = what === 'rung' ? answer : answer[what];
	if (changes.length === 0)
		throw new InputError(
			what === 'rung'
				? 'nothing is ready to climb: a gate is closed, or the goal is reached'
				: 'nothing of it is to be changed'
		);
	const proposal = { changes, held: [] };
	const ids = logs.map((l) => l.id);
	const open = (await revisionsOf(app.db, jobId)).find((r) => r.state === 'draft');
	if (open) return takeProposal(app.db, open.id, at.id, proposal, ids);
	return createDraft(app.db, (await revision(app.db, at.id))!, proposal, ids);
}
