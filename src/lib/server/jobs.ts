/** Customers, vehicles and jobs. */
import { parseCalibration, type Calibration } from '../../core/calibration/document.ts';
import type { LogRequest } from '../../core/planning/request.ts';
import type { Report } from '../../core/screening/report.ts';
import type { Brief } from '../../core/screening/brief.ts';
import { changesBetween, type Change } from '../../core/screening/sections.ts';
import { sql } from 'kysely';
import { parseVehicle, type Vehicle } from '../../core/vehicle.ts';
import { nextId } from './db/ids.ts';
import type { Db } from './db/open.ts';
import { ADVICE } from './messages.ts';
import { contentHash, withdrawalsOf } from './revisions.ts';

export interface NewJob {
	customer: string;
	email: string | null;
	title: string;
	vehicle: Vehicle;
	calibration: Calibration;
	record?: JobRecord;
}

/** Creates customer (or takes the one of the same name and address), vehicle, job and R0, all or nothing. */
export async function createJob(db: Db, job: NewJob, now = new Date()): Promise<number> {
	const at = now.toISOString();
	const vehicle = parseVehicle(job.vehicle);
	const calibration = parseCalibration(job.calibration);
	return db.transaction().execute(async (trx) => {
		const known = await trx
			.selectFrom('customers')
			.select('id')
			.where('name', '=', job.customer)
			.where('email', job.email === null ? 'is' : '=', job.email)
			.executeTakeFirst();
		const customerId =
			known?.id ??
			Number(
				(
					await trx
						.insertInto('customers')
						.values({ name: job.customer, email: job.email, created_at: at })
						.executeTakeFirstOrThrow()
				).insertId
			);
		const { insertId: vehicleId } = await trx
			.insertInto('vehicles')
			.values({ customer_id: customerId, document: JSON.stringify(vehicle), created_at: at })
			.executeTakeFirstOrThrow();
		const { insertId: jobId } = await trx
			.insertInto('jobs')
			.values({
				customer_id: customerId,
				vehicle_id: Number(vehicleId),
				title: job.title,
				goals: job.record?.goals ?? '',
				done_before: job.record?.doneBefore ?? '',
				agreed: job.record?.agreed ?? '',
				waiting_on: 'customer',
				waiting_since: at,
				created_at: at
			})
			.executeTakeFirstOrThrow();
		await trx
			.insertInto('revisions')
			.values({
				id: await nextId(trx, 'revisions'),
				job_id: Number(jobId),
				number: 0,
				state: 'baseline',
				document: JSON.stringify(calibration),
				content_hash: contentHash(calibration),
				changes: '[]',
				proposal_logs: '[]',
				notes: '',
				created_at: at
			})
			.execute();
		return Number(jobId);
	});
}

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
	logs: number;
	/** State of the newest log. */
	logState: string | null;
	verdict: Report['verdict'] | null;
	finding: string | null;
	/** Newest log, when there is one. */
	logId: number | null;
	/** What came, went or changed since the log before; null with one log. */
	since: Change[] | null;
}

const VERDICT_RANK: Record<string, number> = { stop: 0, fix: 1, watch: 2, clear: 3 };

/** Jobs with their customer and vehicle. */
function jobRows(db: Db) {
	return db
		.selectFrom('jobs')
		.innerJoin('customers', 'customers.id', 'jobs.customer_id')
		.innerJoin('vehicles', 'vehicles.id', 'jobs.vehicle_id')
		.select([
			'jobs.id',
			'jobs.title',
			'jobs.waiting_on',
			'jobs.waiting_since',
			'jobs.created_at',
			'jobs.customer_id',
			'jobs.vehicle_id',
			'jobs.goals',
			'jobs.done_before',
			'jobs.agreed',
			'jobs.done_at',
			'jobs.done_words',
			'customers.name',
			'customers.email',
			'vehicles.document'
		]);
}

/** What needs the tuner next: waiting on the tuner first, stops before anything else, then by how long it has waited. */
export async function queue(db: Db): Promise<QueueRow[]> {
	const jobs = await db
		.selectFrom('jobs')
		.innerJoin('customers', 'customers.id', 'jobs.customer_id')
		.innerJoin('vehicles', 'vehicles.id', 'jobs.vehicle_id')
		.select(['jobs.id', 'jobs.title', 'jobs.waiting_on', 'jobs.waiting_since', 'customers.name'])
		.select(sql<string>`json_extract(vehicles.document, '$.name')`.as('vehicle'))
		.execute();
	const revisions = await db
		.selectFrom('revisions')
		.select(['job_id', 'number', 'state'])
		.orderBy('number')
		.execute();
	const newestRevision = new Map(revisions.map((r) => [r.job_id, r]));
	const logs = await db.selectFrom('logs').select(['id', 'job_id', 'state']).orderBy('id').execute();
	const logsOf = new Map<number, typeof logs>();
	for (const l of logs) {
		const list = logsOf.get(l.job_id);
		if (list) list.push(l);
		else logsOf.set(l.job_id, [l]);
	}
	// Of each job the newest log and, to say what changed, the screened one before it.
	const ends = new Map(
		jobs.map((j) => {
			const mine = logsOf.get(j.id) ?? [];
			return [j.id, { last: mine.at(-1), before: mine.slice(0, -1).findLast((l) => l.state === 'screened') }];
		})
	);
	const wanted = [...ends.values()].flatMap(({ last, before }) =>
		[last, before].flatMap((l) => (l ? [l.id] : []))
	);
	const briefs = await briefsOf(db, wanted);
	const rows = jobs.map((j): QueueRow => {
		const { last, before } = ends.get(j.id)!;
		const brief = last && briefs.get(last.id);
		const earlier = before && briefs.get(before.id);
		const newest = newestRevision.get(j.id);
		return {
			id: j.id,
			title: j.title,
			customer: j.name,
			vehicle: j.vehicle,
			waitingOn: j.waiting_on,
			waitingSince: j.waiting_since,
			revision: newest?.number ?? 0,
			draft: newest?.state === 'draft',
			logs: logsOf.get(j.id)?.length ?? 0,
			logState: last?.state ?? null,
			verdict: brief?.verdict ?? null,
			finding: brief?.findings[0]?.title ?? null,
			logId: last?.id ?? null,
			since: earlier && brief ? changesBetween(earlier, brief) : null
		};
	});
	const rank = (r: QueueRow) => (r.waitingOn === 'tuner' ? (VERDICT_RANK[r.verdict ?? 'clear'] ?? 3) : 10);
	return rows.sort((a, b) => rank(a) - rank(b) || (a.waitingSince < b.waitingSince ? -1 : 1));
}

/** Heads of the newest screening of each of these logs. */
async function briefsOf(db: Db, logIds: readonly number[]): Promise<Map<number, Brief>> {
	const out = new Map<number, Brief>();
	for (let at = 0; at < logIds.length; at += IN_ONE_QUERY) {
		const rows = await db
			.selectFrom('screenings')
			.select(['log_id', 'brief'])
			.select(({ fn }) => fn.max('id').as('id'))
			.where('log_id', 'in', logIds.slice(at, at + IN_ONE_QUERY))
			.groupBy('log_id')
			.execute();
		// SQLite gives the other columns of the row that holds the maximum.
		for (const r of rows) out.set(r.log_id, JSON.parse(r.brief) as Brief);
	}
	return out;
}
const IN_ONE_QUERY = 500;

/** The job before or after one in the queue, with where to begin in it; `null` at the ends. */
export async function neighbour(
	db: Db,
	jobId: number,
	by: 1 | -1
): Promise<{ job: number; log: number | null } | null> {
	const rows = await queue(db);
	const next = rows[rows.findIndex((r) => r.id === jobId) + by];
	return next ? { job: next.id, log: next.logState === 'screened' ? next.logId : null } : null;
}

export async function setWaiting(
	db: Db,
	jobId: number,
	on: 'tuner' | 'customer',
	now = new Date()
): Promise<void> {
	await db
		.updateTable('jobs')
		.set({ waiting_on: on, waiting_since: now.toISOString() })
		.where('id', '=', jobId)
		.execute();
}

export interface JobView {
	id: number;
	title: string;
	customer: string;
	email: string | null;
	customerId: number;
	vehicle: Vehicle;
	waitingOn: 'tuner' | 'customer';
	waitingSince: string;
	createdAt: string;
	vehicleId: number;
	record: JobRecord;
	/** When the tuner called the tune done, with the closing words. */
	done: { at: string; words: string } | null;
}

/** The tuner's own words on a job. */
export interface JobRecord {
	goals: string;
	doneBefore: string;
	agreed: string;
}

export async function saveRecord(db: Db, jobId: number, title: string, record: JobRecord): Promise<void> {
	await db
		.updateTable('jobs')
		.set({ title, goals: record.goals, done_before: record.doneBefore, agreed: record.agreed })
		.where('id', '=', jobId)
		.execute();
}

/** The tuner says that the tune is done, or takes that back. */
export async function setDone(db: Db, jobId: number, words: string | null, now = new Date()): Promise<void> {
	await db
		.updateTable('jobs')
		.set(
			words === null ? { done_at: null, done_words: '' } : { done_at: now.toISOString(), done_words: words }
		)
		.where('id', '=', jobId)
		.execute();
}

export async function jobView(db: Db, jobId: number): Promise<JobView | null> {
	const row = await jobRows(db).where('jobs.id', '=', jobId).executeTakeFirst();
	if (!row) return null;
	return {
		id: row.id,
		title: row.title,
		customer: row.name,
		email: row.email,
		customerId: row.customer_id,
		vehicle: parseVehicle(JSON.parse(row.document)),
		waitingOn: row.waiting_on,
		waitingSince: row.waiting_since,
		createdAt: row.created_at,
		vehicleId: row.vehicle_id,
		record: { goals: row.goals, doneBefore: row.done_before, agreed: row.agreed },
		done: row.done_at === null ? null : { at: row.done_at, words: row.done_words }
	};
}

/** A bead on the string of a job: a revision, a log, a message or a drive plan, in the order of time. */
export interface Bead {
	kind: 'revision' | 'log' | 'message' | 'plan';
	id: number;
	label: string;
	at: string;
	/** Verdict of a log, state of a revision. */
	state: string;
	detail: string;
}

interface LineageRow {
	id: number;
	number: number;
	state: string;
	changes: string;
	edits: string;
	parent_id: number | null;
}

/** What a revision is: how much it changes, which one it goes out from where that isn't the one before, and whether it still counts. */
function lineage(r: LineageRow, all: readonly LineageRow[], withdrawn: ReadonlySet<number>): string {
	if (r.state === 'baseline') return 'as received';
	const count = (text: string) => (JSON.parse(text) as unknown[]).length;
	const parent = all.find((p) => p.id === r.parent_id);
	const before = Math.max(
		...all.filter((p) => p.number < r.number && p.state !== 'draft').map((p) => p.number)
	);
	return [
		...(withdrawn.has(r.id) ? ['withdrawn'] : []),
		...(parent && parent.number !== before ? [`from R${parent.number}`] : []),
		`${count(r.changes) + count(r.edits)} ${count(r.edits) ? 'changes' : 'cells changed'}`
	].join(' · ');
}

export async function stringOf(db: Db, jobId: number): Promise<Bead[]> {
	const withdrawn = new Set((await withdrawalsOf(db, jobId)).map((w) => w.revisionId));
	const revisions = await db
		.selectFrom('revisions')
		.select(['id', 'number', 'state', 'created_at', 'released_at', 'changes', 'edits', 'parent_id'])
		.where('job_id', '=', jobId)
		.execute();
	const logs = await db
		.selectFrom('logs')
		.innerJoin('revisions', 'revisions.id', 'logs.revision_id')
		.select([
			'logs.id',
			'logs.name',
			'logs.state',
			'logs.received_at',
			'logs.kind',
			'logs.declined_at',
			'revisions.number as made_with'
		])
		.where('logs.job_id', '=', jobId)
		.execute();
	const briefs = await briefsOf(
		db,
		logs.map((l) => l.id)
	);
	const messages = await db
		.selectFrom('messages')
		.select(['id', 'kind', 'body', 'created_at', 'advice'])
		.where('job_id', '=', jobId)
		.execute();
	const plans = await db
		.selectFrom('requests')
		.select(['id', 'document', 'created_at'])
		.where('job_id', '=', jobId)
		.execute();
	const beads: Bead[] = [
		...revisions.map((r): Bead => ({
			kind: 'revision',
			id: r.id,
			label: `R${r.number}`,
			at: r.released_at ?? r.created_at,
			state: r.state,
			detail: lineage(r, revisions, withdrawn)
		})),
		...logs.map((l): Bead => ({
			kind: 'log',
			id: l.id,
			label: l.name,
			at: l.received_at,
			state: l.state === 'screened' ? (briefs.get(l.id)?.verdict ?? l.state) : l.state,
			detail: [
				`made with R${l.made_with}`,
				...(l.kind === 'problem' ? ['a problem'] : []),
				...(l.declined_at ? ["won't do"] : [])
			].join(' · ')
		})),
		...messages.map((m): Bead => ({
			kind: 'message',
			id: m.id,
			label: m.advice
				? `Advice: ${ADVICE[m.advice]}`
				: { note: 'Note', 'to-customer': 'To the customer', 'from-customer': 'From the customer' }[m.kind],
			at: m.created_at,
			state: m.kind,
			detail: m.body.length > 90 ? `${m.body.slice(0, 89)}…` : m.body
		})),
		...plans.map((p): Bead => ({
			kind: 'plan',
			id: p.id,
			label: (JSON.parse(p.document) as LogRequest).title ?? 'Drive plan',
			at: p.created_at,
			state: 'plan',
			detail: 'drive plan sent'
		}))
	];
	return beads.sort((a, b) => a.at.localeCompare(b.at) || (a.kind === 'revision' ? -1 : 1));
}
