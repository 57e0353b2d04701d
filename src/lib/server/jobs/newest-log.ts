/** Which log of a job speaks now, and which of them nobody has judged yet. */
import type { HoldInput } from '$core/revising/holds.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { Revision } from '$lib/server/revisions/revisions.ts';

/**
 * The newest log of a job that has ever been screened, and of those made with one revision. While it is read again, or can't be, its
 * newest finished screening still speaks.
 */
export async function newestLog(db: Db, jobId: number, revisionId?: number) {
	let query = db
		.selectFrom('logs')
		.select(['id', 'name', 'revision_id as revisionId'])
		.where('job_id', '=', jobId)
		.where('id', 'in', (e) => e.selectFrom('screenings').select('log_id'))
		.where('declined_at', 'is', null)
		.where('taken_out', 'is', null)
		.orderBy('id', 'desc');
	if (revisionId !== undefined) query = query.where('revision_id', '=', revisionId);
	return (await query.executeTakeFirst()) ?? null;
}

/** The log that speaks for the tables of a revision: the one its proposal was made from, else the newest made with its parent or with it. */
export async function logBehind(db: Db, rev: Revision): Promise<{ id: number; name: string } | null> {
	const source = rev.proposalLogs[0];
	const named =
		source === undefined
			? undefined
			: await db.selectFrom('logs').select(['id', 'name']).where('id', '=', source).executeTakeFirst();
	return (
		named ?? (await newestLog(db, rev.jobId, rev.parentId ?? rev.id)) ?? (await newestLog(db, rev.jobId))
	);
}

/** Logs of a job that nobody has declined and that aren't screened now: waiting, being read, or not readable. */
export async function unreadLogs(db: Db, jobId: number): Promise<HoldInput['unread']> {
	const rows = await db
		.selectFrom('logs')
		.select(['id', 'name', 'state'])
		.where('job_id', '=', jobId)
		.where('state', '!=', 'screened')
		.where('declined_at', 'is', null)
		.where('taken_out', 'is', null)
		.orderBy('id')
		.execute();
	return rows.map((r) => ({ id: r.id, name: r.name, failed: r.state === 'failed' }));
}
