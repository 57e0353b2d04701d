/** Customers, vehicles and jobs. */
import { parseCalibration, type Calibration } from '$core/calibration/document.ts';
import { parseVehicle, type Vehicle } from '$core/vehicle/document.ts';
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';
import { contentHash } from '$lib/server/revisions/revisions.ts';

export interface NewJob {
	customer: string;
	email: string | null;
	title: string;
	vehicle: Vehicle;
	calibration: Calibration;
	record?: JobRecord;
	/** Of the stand-in, for practice. */
	practice?: true;
}

/** Creates customer (or takes the one of the same name and address), vehicle, job and R0, all or nothing. */
/** @param tuner whose job it is; nobody's without */
export async function createJob(
	db: Db,
	job: NewJob,
	now = new Date(),
	tuner: { id: string; name: string } | null = null
): Promise<number> {
	const at = now.toISOString();
	const vehicle = parseVehicle(job.vehicle);
	const calibration = parseCalibration(job.calibration);
	return db.transaction().execute(async (trx) => {
		const known = await trx
			.selectFrom('customers')
			.select('id')
			.where('name', '=', job.customer)
			.where('email', job.email === null ? 'is' : '=', job.email)
			.where('practice', '=', job.practice ? 1 : 0)
			.executeTakeFirst();
		const customerId = known?.id ?? (await nextId(trx, 'customers'));
		if (!known)
			await trx
				.insertInto('customers')
				.values({
					id: customerId,
					name: job.customer,
					email: job.email,
					practice: job.practice ? 1 : 0,
					created_at: at
				})
				.execute();
		const vehicleId = await nextId(trx, 'vehicles');
		await trx
			.insertInto('vehicles')
			.values({ id: vehicleId, customer_id: customerId, document: JSON.stringify(vehicle), created_at: at })
			.execute();
		const jobId = await nextId(trx, 'jobs');
		await trx
			.insertInto('jobs')
			.values({
				id: jobId,
				customer_id: customerId,
				vehicle_id: vehicleId,
				title: job.title,
				goals: job.record?.goals ?? '',
				done_before: job.record?.doneBefore ?? '',
				agreed: job.record?.agreed ?? '',
				waiting_on: 'customer',
				waiting_since: at,
				...(tuner ? { tuner_id: tuner.id, tuner_name: tuner.name } : {}),
				created_at: at
			})
			.execute();
		await trx
			.insertInto('revisions')
			.values({
				id: await nextId(trx, 'revisions'),
				job_id: jobId,
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
		return jobId;
	});
}

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
			'jobs.archived_at',
			'customers.name',
			'customers.email',
			'vehicles.document',
			'jobs.tuner_id',
			'jobs.tuner_name'
		]);
}

export async function setWaiting(
	db: Db,
	jobId: number,
	on: 'tuner' | 'customer',
	now = new Date()
): Promise<void> {
	await db
		.updateTable('jobs')
		.set({
			waiting_on: on,
			waiting_since: now.toISOString(),
			// Whatever has to be looked at comes out of the archive by itself.
			...(on === 'tuner' ? { archived_at: null } : {})
		})
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
	/** Put away since. */
	archivedAt: string | null;
	/** Whose job it is; `null` for nobody's. */
	tuner: { id: string; name: string } | null;
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

/** Puts a job away, or takes it out again. */
export async function setArchived(db: Db, jobId: number, away: boolean, now = new Date()): Promise<void> {
	await db
		.updateTable('jobs')
		.set({ archived_at: away ? now.toISOString() : null })
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
		done: row.done_at === null ? null : { at: row.done_at, words: row.done_words },
		archivedAt: row.archived_at,
		tuner: row.tuner_id && row.tuner_name ? { id: row.tuner_id, name: row.tuner_name } : null
	};
}

/** @throws where there is no such job */
export async function customerOfJob(db: Db, jobId: number): Promise<number> {
	const job = await db
		.selectFrom('jobs')
		.select('customer_id')
		.where('id', '=', jobId)
		.executeTakeFirstOrThrow();
	return job.customer_id;
}
