/** Screenings: the heads of the newest ones for lists, and those that are kept: what a release rests on, and the newest few of each log. */
import type { Brief } from '$core/screening/brief.ts';
import type { Db } from '$lib/server/db/open.ts';

/** Heads of the newest screening of each of these logs, each with the id of its screening. */
export async function briefsOf(
	db: Db,
	logIds: readonly number[]
): Promise<Map<number, Brief & { screeningId: number }>> {
	const out = new Map<number, Brief & { screeningId: number }>();
	for (let at = 0; at < logIds.length; at += IN_ONE_QUERY) {
		const rows = await db
			.selectFrom('screenings')
			.select(['log_id', 'brief'])
			.select(({ fn }) => fn.max('id').as('id'))
			.where('log_id', 'in', logIds.slice(at, at + IN_ONE_QUERY))
			.groupBy('log_id')
			.execute();
		// SQLite gives the other columns of the row that holds the maximum.
		for (const r of rows) out.set(r.log_id, { ...(JSON.parse(r.brief) as Brief), screeningId: r.id });
	}
	return out;
}
const IN_ONE_QUERY = 500;

const NEWEST = 3;

/**
 * The newest of the logs of a job, or of all open jobs, whose screening was made by other checks than today's.
 * @param below only logs of a smaller id: those from there on were looked at
 */
export async function outdatedLog(
	db: Db,
	version: string,
	below: number,
	jobId?: number
): Promise<{ id: number; bytes: number } | null> {
	let query = db
		.selectFrom('logs')
		.innerJoin('jobs', 'jobs.id', 'logs.job_id')
		.select(['logs.id', 'logs.bytes'])
		.where('logs.id', '<', below)
		.where('logs.state', '=', 'screened')
		.where(
			(e) =>
				e
					.selectFrom('screenings')
					.select('version')
					.whereRef('screenings.log_id', '=', 'logs.id')
					.orderBy('screenings.id', 'desc')
					.limit(1),
			'!=',
			version
		)
		.orderBy('logs.id', 'desc')
		.limit(1);
	query =
		jobId === undefined
			? query.where('jobs.done_at', 'is', null).where('jobs.archived_at', 'is', null)
			: query.where('logs.job_id', '=', jobId);
	return (await query.executeTakeFirst()) ?? null;
}

/** Forgets the runs of a log that nothing rests on any more. */
export async function forgetScreenings(db: Db, logId: number): Promise<void> {
	const runs = await db
		.selectFrom('screenings')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'screenings.id').on('timeline.kind', '=', 'screening')
		)
		.select(['id', 'n'])
		.where('log_id', '=', logId)
		.orderBy('id', 'desc')
		.execute();
	if (runs.length <= NEWEST) return;
	const releases = await db
		.selectFrom('revisions')
		.innerJoin('logs', 'logs.job_id', 'revisions.job_id')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'revisions.id').on('timeline.kind', '=', 'revision')
		)
		.select('n')
		.where('logs.id', '=', logId)
		.where('revisions.released_at', 'is not', null)
		.execute();
	// A release rests on the newest run that there was when it went out.
	const resting = new Set(releases.map((r) => runs.find((run) => run.n < r.n)?.id));
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
