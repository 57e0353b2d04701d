/** Plugs of a job: photographed by the customer, read by the tuner, and what they ask for. */
import { sameItem } from '$core/calibration/compare.ts';
import { findItem } from '$core/calibration/document.ts';
import { InputError } from '$core/input-error.ts';
import { parsePlugs, refuseForeignCylinders, type Plugs } from '$core/plugs/document.ts';
import { FUEL_TRIM, KINDS, type Kind, type PlugAnswer } from '$core/plugs/judge.ts';
import { proposalsOf } from '$core/plugs/trimmed.ts';
import type { Proposal } from '$core/revising/proposal.ts';
import type { App } from './context.ts';
import { nextId } from './db/ids.ts';
import type { Db } from './db/open.ts';
import { vehicleOfJob } from './vehicles.ts';
import { layBeside, proposalBase, revision, revisionsOf } from './revisions.ts';
import type { PlacedEvent } from './timeline-event.ts';
import { plural } from '$core/format.ts';

const TRIMS = [FUEL_TRIM, 'spark.cylTrim'];

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

/** What a reading asks for. @throws InputError for a cylinder that the engine doesn't have */
export async function answerOf(
	app: Pick<App, 'pool' | 'dataDir'>,
	record: PlugRecord,
	rank: readonly Kind[] = KINDS
): Promise<PlugAnswer> {
	const answer = await app.pool.run('plugs', {
		dataDir: app.dataDir,
		plugs: record.plugs,
		revisionId: record.revisionId,
		logId: record.logId,
		rank: [...rank]
	});
	if (!answer.ok) throw new InputError(answer.message);
	return answer.answer;
}

/**
 * Trims of a reading as proposals: in the draft that there is, else in a new one from the newest revision.
 * @returns id of the draft
 * @throws InputError where nothing is to be changed, or the draft is of another revision
 */
export async function proposePlugs(
	app: Pick<App, 'db' | 'pool' | 'dataDir'>,
	jobId: number,
	record: PlugRecord
): Promise<number> {
	const baseId = await proposalBase(app.db, jobId);
	await refuseOtherTrims(app.db, record.revisionId, baseId);
	const answer = await answerOf(app, record);
	if (answer.changes.length === 0) throw new InputError('this reading asks for no change');
	const proposal: Proposal = {
		changes: proposalsOf(answer.changes),
		held: answer.held.map((h) => ({
			item: FUEL_TRIM,
			reason: h.cylinder === null ? h.reason : `Cylinder ${h.cylinder}: ${h.reason}`
		}))
	};
	const logs = record.logId === null ? [] : [record.logId];
	return layBeside(app.db, jobId, baseId, proposal, logs);
}

/** What plugs ask for is added to the trims that they were driven with. @throws InputError where the newest revision has others */
async function refuseOtherTrims(db: Db, drivenId: number, baseId: number): Promise<void> {
	if (drivenId === baseId) return;
	const [driven, base] = [(await revision(db, drivenId))!, (await revision(db, baseId))!];
	const same = TRIMS.every((id) =>
		sameItem(findItem(driven.calibration, id), findItem(base.calibration, id))
	);
	if (!same)
		throw new InputError(
			`the trims of the cylinders are others in R${base.number} than in R${driven.number}, which these plugs were driven with: read a new set after driving with R${base.number}`
		);
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
