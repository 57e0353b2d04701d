/** What needs the tuner next, in pages. */
import { sql } from 'kysely';
import { changesBetween, weighty, type Change } from '$core/screening/brief.ts';
import type { Verdict } from '$core/screening/types.ts';
import type { Db } from '$lib/server/db/open.ts';
import { inTheCar } from '$lib/server/revisions/installed-revision.ts';
import { briefsOf } from '$lib/server/logs/screenings.ts';

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
	/** It was released, and nobody has said yet that it is in the car. */
	unconfirmed: boolean;
	/** State of the newest log. */
	logState: string | null;
	/** Of the newest log that could be read: a file that can't be read hides nothing. */
	verdict: Verdict | null;
	/** Verdicts of the logs before it, the oldest first. */
	before: Verdict[];
	finding: string | null;
	/** Newest log that was read, else the newest one, when there is one. */
	logId: number | null;
	/** What came, went or changed since the log before; null with one log. */
	since: Change[] | null;
	/** The newest word of the customer that nobody has answered. */
	word: string | null;
	done: boolean;
	archived: boolean;
	/** Whose job it is; `null` for nobody's. */
	tuner: string | null;
}

export interface QueuePage {
	rows: QueueRow[];
	/** Counted from 1; the nearest one that there is. */
	page: number;
	pages: number;
	/** Over all pages: jobs that wait for the tuner, those of them at stop, jobs that wait for their customer, done ones, archived ones. */
	mine: number;
	stops: number;
	theirs: number;
	done: number;
	archived: number;
}

/** What of the queue is wanted. */
export interface QueueQuestion {
	page?: number;
	/** Every word has to stand somewhere in customer, vehicle or title; archived jobs are found as well. */
	search?: string;
	/** One of the lists alone. */
	only?: 'mine' | 'theirs' | 'done' | 'archived' | null;
	/** Account of the tuner whose jobs alone are wanted; `nobody` for those without one. */
	tuner?: string | null;
}

export const ROWS_A_PAGE = 50;
/** Stands for jobs that have no tuner. */
export const NOBODY = 'nobody';
/** Of each job so many of its newest logs are looked at for what was found last. */
const LOOKED_AT = 6;

/** Every job with its newest logs and verdict, without reading a report: stops before anything else, then by how long it has waited. */
function ordered(db: Db) {
	return db
		.with('heads', (q) =>
			q
				.selectFrom('jobs')
				.innerJoin('timeline', (on) =>
					on.onRef('timeline.ref', '=', 'jobs.id').on('timeline.kind', '=', 'waiting')
				)
				.innerJoin('customers', 'customers.id', 'jobs.customer_id')
				.innerJoin('vehicles', 'vehicles.id', 'jobs.vehicle_id')
				.where('customers.practice', '=', 0)
				.select(['jobs.id', 'jobs.waiting_on', 'jobs.done_at', 'jobs.archived_at', 'timeline.n'])
				.select('jobs.tuner_id as tuner')
				.select(
					sql<string>`lower(jobs.title || ' ' || customers.name || ' ' || json_extract(vehicles.document, '$.name'))`.as(
						'text'
					)
				)
				.select(
					// Of a file that can't be read nobody knows anything: what the one before said still stands.
					sql<number | null>`coalesce(
						(select id from logs where job_id = jobs.id and taken_out is null and exists
							(select 1 from screenings where log_id = logs.id) order by id desc limit 1),
						(select id from logs where job_id = jobs.id and taken_out is null order by id desc limit 1))`.as(
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
				.select(
					sql<
						'mine' | 'theirs' | 'done' | 'archived'
					>`case when archived_at is not null then 'archived' when waiting_on = 'tuner' then 'mine' when done_at is not null then 'done' else 'theirs' end`.as(
						'list'
					)
				)
		)
		.selectFrom('ranked')
		.select(['id', 'log_id', 'list', 'verdict', 'text', 'tuner'])
		.orderBy(
			sql`case list when 'mine' then case verdict when 'stop' then 0 when 'fix' then 1 when 'watch' then 2 else 3 end when 'theirs' then 7 when 'done' then 8 else 9 end`
		)
		.orderBy('n');
}

/** One page of the queue. */
export async function queue(
	db: Db,
	{ page = 1, search = '', only = null, tuner = null }: QueueQuestion = {}
): Promise<QueuePage> {
	const all = (await ordered(db).execute()).filter(
		(r) => tuner === null || (tuner === NOBODY ? r.tuner === null : r.tuner === tuner)
	);
	const count = (list: string) => all.filter((r) => r.list === list).length;
	const words = search.toLowerCase().split(/\s+/).filter(Boolean);
	const wanted = all.filter((r) =>
		words.length
			? words.every((w) => r.text.includes(w)) && (only === null || r.list === only)
			: only === null
				? r.list === 'mine' || r.list === 'theirs'
				: r.list === only
	);
	const pages = Math.max(1, Math.ceil(wanted.length / ROWS_A_PAGE));
	const at = Math.min(Math.max(1, Math.trunc(page) || 1), pages);
	return {
		rows: await rowsOf(
			db,
			wanted.slice((at - 1) * ROWS_A_PAGE, at * ROWS_A_PAGE).map((r) => r.id)
		),
		page: at,
		pages,
		mine: count('mine'),
		stops: all.filter((r) => r.list === 'mine' && r.verdict === 'stop').length,
		theirs: count('theirs'),
		done: count('done'),
		archived: count('archived')
	};
}

/** What the list shows of these jobs, in their order. */
async function rowsOf(db: Db, jobIds: readonly number[]): Promise<QueueRow[]> {
	if (jobIds.length === 0) return [];
	const jobs = await db
		.selectFrom('jobs')
		.innerJoin('customers', 'customers.id', 'jobs.customer_id')
		.innerJoin('vehicles', 'vehicles.id', 'jobs.vehicle_id')
		.select([
			'jobs.id',
			'jobs.title',
			'jobs.waiting_on',
			'jobs.waiting_since',
			'jobs.done_at',
			'jobs.archived_at',
			'customers.name',
			'jobs.tuner_name as tuner'
		])
		.select(sql<string>`json_extract(vehicles.document, '$.name')`.as('vehicle'))
		.where('jobs.id', 'in', jobIds)
		.execute();
	const revisions = await db
		.selectFrom('revisions')
		.select(['id', 'job_id', 'number', 'state'])
		.where('job_id', 'in', jobIds)
		.orderBy('number')
		.execute();
	const newestRevision = new Map(revisions.map((r) => [r.job_id, r]));
	const cars = await inTheCar(db, jobIds);
	const said = await db
		.selectFrom('messages')
		.select(['job_id', 'kind', 'body'])
		.select(({ fn }) => fn.max('id').as('id'))
		.where('job_id', 'in', jobIds)
		.where('kind', '!=', 'note')
		.groupBy('job_id')
		.execute();
	const lastSaid = new Map(said.map((m) => [m.job_id, m]));
	const logs = await db
		.selectFrom('logs')
		.select(['id', 'job_id', 'state', 'revision_id'])
		.where('job_id', 'in', jobIds)
		.where('taken_out', 'is', null)
		.orderBy('id')
		.execute();
	const logsOf = new Map(jobIds.map((id) => [id, [] as typeof logs]));
	for (const l of logs) logsOf.get(l.job_id)!.push(l);
	const briefs = await briefsOf(
		db,
		[...logsOf.values()].flatMap((own) => own.slice(-LOOKED_AT).map((l) => l.id))
	);
	// Of each job the newest log that was ever read and, to say what changed, the one before it.
	const ends = new Map(
		jobIds.map((id) => {
			const read = logsOf.get(id)!.filter((l) => briefs.has(l.id));
			return [id, { last: read.at(-1), before: read.at(-2) }];
		})
	);
	const byId = new Map(jobs.map((j) => [j.id, j]));
	return jobIds.map((id): QueueRow => {
		const j = byId.get(id)!;
		const { last, before } = ends.get(id)!;
		const brief = last && briefs.get(last.id);
		const earlier = before && briefs.get(before.id);
		const newest = newestRevision.get(id);
		const arrived = logsOf.get(id)!.at(-1);
		const word = lastSaid.get(id);
		return {
			id,
			title: j.title,
			customer: j.name,
			vehicle: j.vehicle,
			waitingOn: j.waiting_on,
			waitingSince: j.waiting_since,
			revision: newest?.number ?? 0,
			draft: newest?.state === 'draft',
			unconfirmed: !newest || newest.state === 'draft' ? false : cars.get(id)?.witnessed === false,
			logState: arrived?.state ?? null,
			verdict: brief?.verdict ?? null,
			before: logsOf
				.get(id)!
				.slice(-LOOKED_AT)
				.flatMap((l) => (l === last ? [] : (briefs.get(l.id)?.verdict ?? []))),
			finding: brief ? (weighty(brief)[0]?.title ?? null) : null,
			logId: (last ?? arrived)?.id ?? null,
			since: earlier && brief ? changesBetween(earlier, brief) : null,
			word: word?.kind === 'from-customer' ? word.body : null,
			done: j.done_at !== null,
			archived: j.archived_at !== null,
			tuner: j.tuner
		};
	});
}

/** The job before or after one in the queue, with where to begin in it; `null` at the ends. */
export async function neighbour(
	db: Db,
	jobId: number,
	by: 1 | -1
): Promise<{ job: number; log: number | null } | null> {
	const all = (await ordered(db).execute()).filter((r) => r.list === 'mine' || r.list === 'theirs');
	// From a job that isn't in the queue (done, put away) the next one is the first.
	const next = all[all.findIndex((r) => r.id === jobId) + by];
	if (!next) return null;
	const log = next.log_id
		? await db.selectFrom('logs').select('state').where('id', '=', next.log_id).executeTakeFirst()
		: undefined;
	return { job: next.id, log: log?.state === 'screened' ? next.log_id : null };
}
