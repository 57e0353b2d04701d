/** What a log is screened with: its vehicle, the revisions of its job, what this customer's columns were called before. */
import { parseCalibration, type Calibration } from '$core/calibration/document.ts';
import type { Assignment } from '$core/channels/recognise.ts';
import { layoutHintSchema, type LayoutHint } from '$core/logfile/layout-hint.ts';
import { parseJson } from '$core/parse.ts';
import { parseVehicle, type Vehicle } from '$core/vehicle/document.ts';
import { gaugeStoich } from '$core/vehicle/facts.ts';
import type { LogRequest } from '$core/request.ts';
import type { TypedMixture } from '$core/evidence/lambda/typed-vote.ts';
import { typedDuty, typedMixtures } from '$core/evidence/typed-reading.ts';
import { profileOf } from '$core/limits/profile.ts';
import type { FalseProof } from '$core/evidence/knock/proof.ts';
import type { Proposal } from '$core/revising/proposal.ts';
import type { Db } from '$lib/server/db/open.ts';
import { layoutsOf } from './file-layouts.ts';
import { spanStatistics } from './log-store.ts';
import { conditionsFrom } from './log-conditions.ts';
import { vehicleOn } from '$core/vehicle/conditions.ts';
import { falseProofsOf, proofsOf } from '$lib/server/jobs/knock-proofs.ts';
import { typedReadingsOf } from './typed-readings.ts';
import { requestById } from '$lib/server/jobs/drive-plans.ts';

export interface LogContext {
	log: { id: number; sha256: string; bytes: number; job_id: number };
	revisionId: number;
	/** As it was for this log: with the day's barometer and fuel, and its sensors where they sat. */
	vehicle: Vehicle;
	ambientC: number | null;
	/** Frozen revisions of the job up to and with the stated one, oldest first. */
	calibrations: Calibration[];
	/** Index of the stated one. */
	stated: number;
	remembered: Map<string, Assignment>;
	/** Files of second recorders that were joined to it, the first joined first. */
	recorders: { sha256: string; bytes: number }[];
	/** What was said of this file's layout, and of the customer's others. */
	hint: LayoutHint | undefined;
	layouts: LayoutHint[];
	/** The drive plan that the log answers. */
	request: LogRequest | null;
	/** Its revision went out with the words that the learned trims have to be reset. */
	resetTrims: boolean;
	/** Mixtures that were typed beside it, and the highest duty that its controller kept. */
	typed: TypedMixture[];
	keptDutyPct: number | null;
	/** Where knock was proved false in its job. */
	falseProofs: FalseProof[];
}

/** Whether a revision holds what the learned trims held: they have to be reset with it, or it counts twice. */
export const asksForReset = (r: { proposal: string | null; changes: string }): boolean =>
	r.changes !== '[]' && r.proposal !== null && (JSON.parse(r.proposal) as Proposal).resetTrims === true;

export async function contextOf(db: Db, logId: number): Promise<LogContext> {
	const log = await db
		.selectFrom('logs')
		.innerJoin('jobs', 'jobs.id', 'logs.job_id')
		.innerJoin('vehicles', 'vehicles.id', 'jobs.vehicle_id')
		.select([
			'logs.id',
			'logs.sha256',
			'logs.bytes',
			'logs.job_id',
			'logs.revision_id',
			'logs.request_id',
			'logs.layout',
			'logs.conditions',
			'jobs.customer_id',
			'vehicles.document'
		])
		.where('logs.id', '=', logId)
		.executeTakeFirstOrThrow();
	const revisions = await db
		.selectFrom('revisions')
		.select(['id', 'document', 'proposal', 'changes'])
		.where('job_id', '=', log.job_id)
		.where((e) => e.or([e('state', '!=', 'draft'), e('id', '=', log.revision_id)]))
		.orderBy('number')
		.execute();
	const request = log.request_id === null ? null : await requestById(db, log.request_id);
	const rows = await db
		.selectFrom('assignments')
		.selectAll()
		.where('customer_id', '=', log.customer_id)
		.execute();
	const recorders = await db
		.selectFrom('second_recorders')
		.select(['sha256', 'bytes'])
		.where('log_id', '=', log.id)
		.orderBy('id')
		.execute();
	const made = revisions.find((r) => r.id === log.revision_id);
	const conditions = conditionsFrom(log.conditions);
	const vehicle = vehicleOn(parseVehicle(parseJson(log.document)), conditions);
	const readings = await typedReadingsOf(db, log.id);
	const profile = profileOf(vehicle.limits);
	const duties = readings.flatMap((r) => typedDuty(r, profile) ?? []);
	return {
		log: { id: log.id, sha256: log.sha256, bytes: log.bytes, job_id: log.job_id },
		recorders,
		revisionId: log.revision_id,
		vehicle,
		typed: readings.flatMap((r) => typedMixtures(r, gaugeStoich(vehicle))),
		keptDutyPct: duties.length ? Math.max(...duties) : null,
		ambientC: conditions?.ambientC ?? null,
		calibrations: revisions.map((r) => parseCalibration(parseJson(r.document))),
		request: request?.plan ?? null,
		resetTrims: made ? asksForReset(made) : false,
		falseProofs: falseProofsOf(await proofsOf(db, log.job_id)),
		stated: revisions.findIndex((r) => r.id === log.revision_id),
		hint: log.layout === null ? undefined : layoutHintSchema.parse(JSON.parse(log.layout)),
		layouts: await layoutsOf(db, log.customer_id),
		remembered: new Map(rows.map((r) => [r.key, { channel: r.channel, unit: r.unit }]))
	};
}

/** What was in the tank in a log, percent of ethanol: measured, else said of the log or the vehicle; `null` where nobody knows. */
export async function ethanolOfLog(db: Db, logId: number): Promise<number | null> {
	const { vehicle } = await contextOf(db, logId);
	const stated = vehicle.fuel?.ethanolPct ?? null;
	if (vehicle.fuel?.ethanolSource === 'inferred') return stated;
	return (await spanStatistics(db, logId, 'ethanol', 0, Infinity))?.mean ?? stated;
}
