/** What needs the tuner next, in pages. */
import { sql } from 'kysely';
import { changesBetween, weighty, type Change } from '../../core/screening/brief.ts';
import type { Verdict } from '../../core/screening/types.ts';
import type { Db } from './db/open.ts';
import { briefsOf } from './screenings.ts';

export interface QueueRow {
	id: number;
	title: string;
	customer: string;
	vehicle: string;
	waitingOn: 'tuner' | 'customer';
	waitingSince: string;
	/** Newest revision, and whether it is a draft. */
	revision: number;
	draft: boolean;
	/** State of the newest log. */
	logState: string | null;
	verdict: Verdict | null;
	finding: string | null;
	/** Newest log, when there is one. */
	logId: number | null;
	/** What came, went or changed since the log before; null with one log. */
	since: Change[] | null;
}

export interface QueuePage {
	rows: QueueRow[];
	/** Counted from 1; the nearest one that there is. */
	page: number;
	pages: number;
	/** Over all pages: jobs that wait for the tuner, those of them at stop, jobs that wait for their customer. */
	mine: number;
	stops: number;
	theirs: number;
}

export const ROWS_A_PAGE = 50;

/** Every job with its newest log and verdict, without reading a report: stops before anything else, then by how long it has waited. */
function ordered(db: Db) {
	return db
		.with('heads', (q) =>
			q
				.selectFrom('jobs')
				.innerJoin('timeline', (on) =>
					on.onRef('timeline.ref', '=', 'jobs.id').on('timeline.kind', '=', 'waiting')
				)
				.select(['jobs.id', 'jobs.waiting_on', 'timeline.n'])
				.select(
					sql<number | null>`(select id from logs where job_id = jobs.id order by id desc limit 1)`.as(
						'log_id'
					)
				)
		)
		.with('ranked', (q) =>
			q
				.selectFrom('heads')
				.selectAll()
				.select(
					sql<Verdict | null>`(select verdict from screenings where log_id = heads.log_id order by id desc limit 1)`.as(
						'verdict'
					)
				)
		)
		.selectFrom('ranked')
		.select(['id', 'log_id', 'waiting_on', 'verdict'])
		.orderBy(
			sql`case when waiting_on = 'customer' then 9 else case verdict when 'stop' then 0 when 'fix' then 1 when 'watch' then 2 else 3 end end`
		)
		.orderBy('n');
}

/** One page of the queue. @param page counted from 1 */
export async function queue(db: Db, page = 1): Promise<QueuePage> {
	const all = await ordered(db).execute();
	const mine = all.filter((r) => r.waiting_on === 'tuner');
	const pages = Math.max(1, Math.ceil(all.length / ROWS_A_PAGE));
	const at = Math.min(Math.max(1, Math.trunc(page) || 1), pages);
	return {
		rows: await rowsOf(
			db,
			all.slice((at - 1) * ROWS_A_PAGE, at * ROWS_A_PAGE).map((r) => r.id)
		),
		page: at,
		pages,
		mine: mine.length,
		stops: mine.filter((r) => r.verdict === 'stop').length,
		theirs: all.length - mine.length
	};
}

/** What the list shows of these jobs, in their order. */
async function rowsOf(db: Db, jobIds: readonly number[]): Promise<QueueRow[]> {
	if (jobIds.length === 0) return [];
	const jobs = await db
		.selectFrom('jobs')
		.innerJoin('customers', 'customers.id', 'jobs.customer_id')
		.innerJoin('vehicles', 'vehicles.id', 'jobs.vehicle_id')
		.select(['jobs.id', 'jobs.title', 'jobs.waiting_on', 'jobs.waiting_since', 'customers.name'])
		.select(sql<string>`json_extract(vehicles.document, '$.name')`.as('vehicle'))
		.where('jobs.id', 'in', jobIds)
		.execute();
	const revisions = await db
		.selectFrom('revisions')
		.select(['job_id', 'number', 'state'])
		.where('job_id', 'in', jobIds)
		.orderBy('number')
		.execute();
	const newestRevision = new Map(revisions.map((r) => [r.job_id, r]));
	const logs = await db
		.selectFrom('logs')
		.select(['id', 'job_id', 'state'])
		.where('job_id', 'in', jobIds)
		.orderBy('id')
		.execute();
	const logsOf = new Map(jobIds.map((id) => [id, [] as typeof logs]));
	for (const l of logs) logsOf.get(l.job_id)!.push(l);
	// Of each job the newest log and, to say what changed, the screened one before it.
	const ends = new Map(
		jobIds.map((id) => {
			const own = logsOf.get(id)!;
			return [id, { last: own.at(-1), before: own.slice(0, -1).findLast((l) => l.state === 'screened') }];
		})
	);
	const briefs = await briefsOf(
		db,
		[...ends.values()].flatMap(({ last, before }) => [last, before].flatMap((l) => (l ? [l.id] : [])))
	);
	const byId = new Map(jobs.map((j) => [j.id, j]));
	return jobIds.map((id): QueueRow => {
		const j = byId.get(id)!;
		const { last, before } = ends.get(id)!;
		const brief = last && briefs.get(last.id);
		const earlier = before && briefs.get(before.id);
		const newest = newestRevision.get(id);
		return {
			id,
			title: j.title,
			customer: j.name,
			vehicle: j.vehicle,
			waitingOn: j.waiting_on,
			waitingSince: j.waiting_since,
			revision: newest?.number ?? 0,
			draft: newest?.state === 'draft',
			logState: last?.state ?? null,
			verdict: brief?.verdict ?? null,
			finding: brief ? (weighty(brief)[0]?.title ?? null) : null,
			logId: last?.id ?? null,
			since: earlier && brief ? changesBetween(earlier, brief) : null
		};
	});
}

/** The job before or after one in the queue, with where to begin in it; `null` at the ends. */
export async function neighbour(
	db: Db,
	jobId: number,
	by: 1 | -1
): Promise<{ job: number; log: number | null } | null> {
	const all = await ordered(db).execute();
	const next = all[all.findIndex((r) => r.id === jobId) + by];
	if (!next) return null;
	const log = next.log_id
		? await db.selectFrom('logs').select('state').where('id', '=', next.log_id).executeTakeFirst()
		: undefined;
	return { job: next.id, log: log?.state === 'screened' ? next.log_id : null };
}
