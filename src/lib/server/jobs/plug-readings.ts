/** Plugs of a job: photographed by the customer, read by the tuner, and what they ask for. */
import { InputError } from '$core/input-error.ts';
import { parsePlugs, refuseForeignCylinders, type Plugs } from '$core/plugs/document.ts';
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';
import { vehicleOfJob } from './vehicles.ts';
import { revisionsOf } from '$lib/server/revisions/revisions.ts';
import type { PlacedEvent } from './timeline-event.ts';
import { plural } from '$core/format.ts';

export interface PlugRecord {
	id: number;
	plugs: Plugs;
	/** What was in the car. */
	revisionId: number;
	logId: number | null;
	author: string;
	at: string;
}

/** What was read of the cylinders that the engine has now: a sheet that was corrected since leaves the others in the record. */
const ofEngine = (plugs: Plugs, cylinders: number): Plugs => ({
	...plugs,
	readings: plugs.readings.filter((r) => r.cylinder <= cylinders)
});

/** Readings of a job, the newest first. */
export async function plugsOf(db: Db, jobId: number): Promise<PlugRecord[]> {
	const rows = await db
		.selectFrom('plug_readings')
		.selectAll()
		.where('job_id', '=', jobId)
		.orderBy('id', 'desc')
		.execute();
	const { cylinders } = (await vehicleOfJob(db, jobId)).engine;
	return rows.map((r) => ({
		id: r.id,
		plugs: ofEngine(parsePlugs(JSON.parse(r.document)), cylinders),
		revisionId: r.revision_id,
		logId: r.log_id,
		author: r.author,
		at: r.created_at
	}));
}

/**
 * Keeps a reading.
 * @throws InputError where the revision or the log is none of the job's, or a cylinder none of the engine's
 */
export async function keepPlugs(
	db: Db,
	jobId: number,
	plugs: Plugs,
	{ revisionId, logId }: { revisionId: number; logId: number | null },
	author: string,
	now = new Date()
): Promise<number> {
	if (!(await revisionsOf(db, jobId)).some((r) => r.id === revisionId && r.state !== 'draft'))
		throw new InputError('there is no such frozen revision in this job', 'revision');
	const { cylinders } = (await vehicleOfJob(db, jobId)).engine;
	refuseForeignCylinders(plugs, cylinders);
	const log =
		logId === null
			? null
			: await db
					.selectFrom('logs')
					.select('state')
					.where('id', '=', logId)
					.where('job_id', '=', jobId)
					.where('taken_out', 'is', null)
					.executeTakeFirst();
	if (log === undefined) throw new InputError('there is no such log in this job', 'log');
	return db.transaction().execute(async (trx) => {
		const id = await nextId(trx, 'plug_readings');
		await trx
			.insertInto('plug_readings')
			.values({
				id,
				job_id: jobId,
				revision_id: revisionId,
				log_id: logId,
				document: JSON.stringify(plugs),
				author,
				created_at: now.toISOString()
			})
			.execute();
		return id;
	});
}

/** Readings of plugs, for the timeline. */
export async function plugEvents(db: Db, jobId: number): Promise<PlacedEvent[]> {
	const rows = await db
		.selectFrom('plug_readings')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'plug_readings.id').on('timeline.kind', '=', 'plugs')
		)
		.select(['id', 'document', 'author', 'created_at', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	return rows.map((p) => ({
		n: p.n,
		kind: 'plugs',
		id: p.id,
		label: 'Plugs read',
		at: p.created_at,
		state: 'plugs',
		detail: `${plural(parsePlugs(JSON.parse(p.document)).readings.length, 'cylinder')}, by ${p.author}`
	}));
}
