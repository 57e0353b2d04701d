/** Screenings that are kept: those that a release rests on, and the newest few of each log. */
import type { Db } from './db/open.ts';

const NEWEST = 3;

/** Forgets the runs of a log that nothing rests on any more. */
export async function forgetScreenings(db: Db, logId: number): Promise<void> {
	const runs = await db
		.selectFrom('screenings')
		.select(['id', 'created_at'])
		.where('log_id', '=', logId)
		.orderBy('id', 'desc')
		.execute();
	if (runs.length <= NEWEST) return;
	const releases = await db
		.selectFrom('revisions')
		.innerJoin('logs', 'logs.job_id', 'revisions.job_id')
		.select('revisions.released_at')
		.where('logs.id', '=', logId)
		.where('revisions.released_at', 'is not', null)
		.execute();
	// A release rests on the newest run that there was when it went out.
	const resting = new Set(releases.map((r) => runs.find((run) => run.created_at <= r.released_at!)?.id));
	const gone = runs.slice(NEWEST).filter((r) => !resting.has(r.id));
	if (gone.length)
		await db
			.deleteFrom('screenings')
			.where(
				'id',
				'in',
				gone.map((r) => r.id)
			)
			.execute();
}
