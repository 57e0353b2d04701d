/** Readings typed in beside a log: kept with it, judged against its pulls. */
import { InputError } from '$core/input-error.ts';
import {
	judgeTyped,
	typedFrom,
	typedReadingSchema,
	type TypedAnswer,
	type TypedReading
} from '$core/evidence/typed-reading.ts';
import { profileOf } from '$core/limits/profile.ts';
import { parseWith } from '$core/parse.ts';
import type { Vehicle } from '$core/vehicle/document.ts';
import { gaugeStoich } from '$core/vehicle/facts.ts';
import type { Db } from '$lib/server/db/open.ts';
import { screeningOf, type LogLine } from './logs.ts';

export interface TypedRecord {
	id: number;
	reading: TypedReading;
	answer: TypedAnswer;
	author: string;
	at: string;
}

/** Readings of a log, the first typed first. */
export async function typedOf(db: Db, logId: number, vehicle: Vehicle): Promise<TypedRecord[]> {
	const rows = await db
		.selectFrom('typed_readings')
		.selectAll()
		.where('log_id', '=', logId)
		.orderBy('id')
		.execute();
	if (rows.length === 0) return [];
	const screening = await screeningOf(db, logId);
	const pulls = screening?.pulls ?? [];
	const profile = screening?.profile ?? profileOf(vehicle.limits);
	return rows.map((r) => {
		const reading = parseWith(typedReadingSchema, JSON.parse(r.document));
		return {
			id: r.id,
			reading,
			answer: judgeTyped(reading, pulls, gaugeStoich(vehicle), profile),
			author: r.author,
			at: r.created_at
		};
	});
}

/** What was typed beside a log, as it was typed. */
export async function typedReadingsOf(db: Db, logId: number): Promise<TypedReading[]> {
	const rows = await db.selectFrom('typed_readings').select('document').where('log_id', '=', logId).execute();
	return rows.map((r) => parseWith(typedReadingSchema, JSON.parse(r.document)));
}

const MOST = 20;

/** @throws InputError naming the line */
export async function keepTyped(
	db: Db,
	log: Pick<LogLine, 'id' | 'jobId'>,
	author: string,
	typed: { kind: string; source: string; unit: string; values: string },
	now = new Date()
): Promise<void> {
	const reading = typedFrom(typed.kind, typed.source, typed.unit, typed.values);
	const { n } = await db
		.selectFrom('typed_readings')
		.select(({ fn }) => fn.countAll<number>().as('n'))
		.where('log_id', '=', log.id)
		.executeTakeFirstOrThrow();
	if (n >= MOST) throw new InputError(`a log takes ${MOST} typed readings at most: take one out first`);
	await db
		.insertInto('typed_readings')
		.values({
			job_id: log.jobId,
			log_id: log.id,
			document: JSON.stringify(reading),
			author,
			created_at: now.toISOString()
		})
		.execute();
}

export async function dropTyped(db: Db, logId: number, id: number): Promise<void> {
	await db.deleteFrom('typed_readings').where('log_id', '=', logId).where('id', '=', id).execute();
}
