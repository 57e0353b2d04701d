/** Maxima of a job, typed without a log: kept, held against the limits of the vehicle, and set beside another car of the workshop. */
import { judgeMaximaOf, maximaSchema, type JudgedMaxima, type Maxima } from '$core/evidence/maxima.ts';
import { maximaInWords } from '$core/evidence/typed-maxima.ts';
import { InputError } from '$core/input-error.ts';
import { profileOf } from '$core/limits/profile.ts';
import { parseJson, parseWith } from '$core/parse.ts';
import { parseVehicle, type Vehicle } from '$core/vehicle/document.ts';
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { JobView } from './jobs.ts';
import { kinOf } from './like-vehicles.ts';
import type { PlacedEvent } from './timeline-event.ts';
import { vehicleOfJob } from './vehicles.ts';

export interface MaximaRecord {
	id: number;
	/** What was in the car. */
	revisionId: number;
	revision: number;
	reading: Maxima;
	judged: JudgedMaxima;
	author: string;
	at: string;
}

/** The newest first. */
export async function maximaOf(db: Db, jobId: number, vehicle: Vehicle): Promise<MaximaRecord[]> {
	const rows = await db
		.selectFrom('maxima_readings as m')
		.innerJoin('revisions as r', 'r.id', 'm.revision_id')
		.select(['m.id', 'm.revision_id', 'r.number', 'm.document', 'm.author', 'm.created_at'])
		.where('m.job_id', '=', jobId)
		.orderBy('m.id', 'desc')
		.execute();
	const profile = profileOf(vehicle.limits);
	return rows.map((r) => {
		const reading = parseWith(maximaSchema, parseJson(r.document));
		return {
			id: r.id,
			revisionId: r.revision_id,
			revision: r.number,
			reading,
			judged: judgeMaximaOf(reading, profile),
			author: r.author,
			at: r.created_at
		};
	});
}

/** @throws InputError where the document is none, or the revision is a draft or of another job */
export async function keepMaxima(
	db: Db,
	jobId: number,
	revisionId: number,
	author: string,
	document: unknown,
	now = new Date()
): Promise<number> {
	const reading = parseWith(maximaSchema, document);
	if (reading.since && reading.since > now.toISOString().slice(0, 10))
		throw new InputError('they were cleared in the future: say when it was', 'since');
	const revision = await db
		.selectFrom('revisions')
		.select('state')
		.where('id', '=', revisionId)
		.where('job_id', '=', jobId)
		.executeTakeFirst();
	if (!revision || revision.state === 'draft')
		throw new InputError('say which released revision was in the car', 'revision');
	const id = await nextId(db, 'maxima_readings');
	await db
		.insertInto('maxima_readings')
		.values({
			id,
			job_id: jobId,
			revision_id: revisionId,
			document: JSON.stringify(reading),
			author,
			created_at: now.toISOString()
		})
		.execute();
	return id;
}

/** Takes a reading off that was typed by mistake. */
export async function dropMaxima(db: Db, jobId: number, id: number): Promise<void> {
	await db.transaction().execute(async (trx) => {
		const { numDeletedRows } = await trx
			.deleteFrom('maxima_readings')
			.where('id', '=', id)
			.where('job_id', '=', jobId)
			.executeTakeFirstOrThrow();
		if (numDeletedRows === 0n) throw new InputError('there is no such reading in this job any more');
		await trx.deleteFrom('timeline').where('kind', '=', 'maxima').where('ref', '=', id).execute();
	});
}

/** The newest reading of a revision that passed a limit at `fix` or beyond, in words; `null` where there is none. */
export async function maximaBeyond(
	db: Db,
	jobId: number,
	revisionId: number,
	vehicle: Vehicle
): Promise<{ id: number; source: string; words: string } | null> {
	const newest = (await maximaOf(db, jobId, vehicle)).find((m) => m.revisionId === revisionId);
	if (newest?.judged.severity !== 'stop' && newest?.judged.severity !== 'fix') return null;
	return { id: newest.id, source: newest.reading.source, words: maximaInWords(newest.judged.maxima) };
}

export interface OtherCar {
	jobId: number;
	vehicle: string;
	at: string;
	values: Maxima['values'];
}

/** How many cars stand beside at most. */
const CARS = 5;

/** The newest reading of each vehicle of the same kind: air, cylinders, injection. */
export async function maximaOfLike(db: Db, job: Pick<JobView, 'vehicle' | 'vehicleId'>): Promise<OtherCar[]> {
	const rows = await kinOf(db, job.vehicle, job.vehicleId)
		.innerJoin('jobs', 'jobs.vehicle_id', 'vehicles.id')
		.innerJoin('maxima_readings as m', 'm.job_id', 'jobs.id')
		.select([
			'vehicles.id as vehicle',
			'vehicles.document as sheet',
			'jobs.id as jobId',
			'm.document',
			'm.created_at'
		])
		.orderBy('m.id', 'desc')
		.limit(CARS * 10)
		.execute();
	const seen = new Set<number>();
	return rows
		.filter((r) => !seen.has(r.vehicle) && seen.add(r.vehicle))
		.slice(0, CARS)
		.map((r) => ({
			jobId: r.jobId,
			vehicle: parseVehicle(parseJson(r.sheet)).name,
			at: r.created_at,
			values: parseWith(maximaSchema, parseJson(r.document)).values
		}));
}

/** Readings of maxima, for the timeline. */
export async function maximaEvents(db: Db, jobId: number): Promise<PlacedEvent[]> {
	const rows = await db
		.selectFrom('maxima_readings')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'maxima_readings.id').on('timeline.kind', '=', 'maxima')
		)
		.select(['id', 'document', 'created_at', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	if (rows.length === 0) return [];
	const profile = profileOf((await vehicleOfJob(db, jobId)).limits);
	return rows.map((r) => {
		const { severity, maxima } = judgeMaximaOf(parseWith(maximaSchema, parseJson(r.document)), profile);
		const worst = maxima.find((m) => m.severity === severity && severity);
		return {
			n: r.n,
			kind: 'maxima',
			id: r.id,
			label: 'Maxima typed',
			at: r.created_at,
			state: severity ?? 'clear',
			detail: worst ? `${worst.title} beyond its limit` : 'within their limits'
		};
	});
}
