/** The newest log of a draft's parent, driven again in thought with the draft; kept until either changes. */
import { replaySchema } from '$core/revising/replay-schema.ts';
import type { App } from '$lib/server/context.ts';
import type { Db } from '$lib/server/db/open.ts';
import { newestLog } from '$lib/server/jobs/newest-log.ts';
import type { ReplayOfDraft } from '$lib/server/revisions/release-check.ts';
import type { Revision } from '$lib/server/revisions/revisions.ts';

/** The log to replay: the newest one made with the parent unless another is named. */
async function logToReplay(db: Db, draft: Revision, logId: number | undefined) {
	return logId === undefined
		? ((draft.parentId === null ? null : await newestLog(db, draft.jobId, draft.parentId)) ??
				(await newestLog(db, draft.jobId)))
		: ((await db
				.selectFrom('logs')
				.select(['id', 'name'])
				.where('id', '=', logId)
				.where('job_id', '=', draft.jobId)
				.executeTakeFirst()) ?? null);
}

const NO_LOG: ReplayOfDraft = {
	replay: null,
	log: null,
	problem: 'there is no screened log in this job yet'
};

/** The same with everything that is proposed for a draft, accepted or not: what would come out, before anybody decides. */
export async function replayOfProposal(app: App, draft: Revision, logId?: number): Promise<ReplayOfDraft> {
	const log = await logToReplay(app.db, draft, logId);
	if (!log) return NO_LOG;
	const answer = await app.pool.run('replay', {
		dataDir: app.dataDir,
		logId: log.id,
		revisionId: draft.id,
		withProposal: true
	});
	return answer.ok
		? { replay: answer.replay, log, problem: '' }
		: { replay: null, log, problem: answer.message };
}

/** A log of the job with this revision: the newest one made with its parent unless another is named. Kept until either changes. */
export async function replayOf(app: App, draft: Revision, logId?: number): Promise<ReplayOfDraft> {
	const { db } = app;
	const log = await logToReplay(db, draft, logId);
	if (!log) return NO_LOG;
	const kept = await db
		.selectFrom('replays')
		.select(['content_hash', 'result'])
		.where('revision_id', '=', draft.id)
		.where('log_id', '=', log.id)
		.executeTakeFirst();
	// The log may have been read again with other units or another vehicle: its newest screening belongs to the key.
	const run = await db
		.selectFrom('screenings')
		.select(({ fn }) => fn.max('id').as('id'))
		.where('log_id', '=', log.id)
		.executeTakeFirst();
	const key = `${draft.contentHash} ${run?.id ?? 0}`;
	if (kept?.content_hash === key)
		return { replay: replaySchema.parse(JSON.parse(kept.result)), log, problem: '' };
	const answer = await app.pool.run('replay', { dataDir: app.dataDir, logId: log.id, revisionId: draft.id });
	if (!answer.ok) return { replay: null, log, problem: answer.message };
	const row = { content_hash: key, result: JSON.stringify(answer.replay) };
	await db
		.insertInto('replays')
		.values({ revision_id: draft.id, log_id: log.id, ...row })
		.onConflict((c) => c.columns(['revision_id', 'log_id']).doUpdateSet(row))
		.execute();
	return { replay: answer.replay, log, problem: '' };
}
