/** A file becomes a log of a job, with what was said beside it, and is read. */
import { InputError } from '$core/input-error.ts';
import type { LayoutHint } from '$core/logfile/layout-hint.ts';
import type { Conditions } from '$core/vehicle/conditions.ts';
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';
import { arrived, safeName, type StoredFile } from '$lib/server/storage/files.ts';
import { customerOfJob, setWaiting } from '$lib/server/jobs/jobs.ts';
import { rememberLayout } from '$lib/server/logs/file-layouts.ts';
import { currentRequest } from '$lib/server/jobs/drive-plans.ts';
import { confirmedRevision, currentRevision, revisionsOf } from '$lib/server/revisions/revisions.ts';
import { startLog, type Reader } from './screen.ts';

export interface Received {
	id: number;
	/** The same bytes were already in this job. */
	duplicate: boolean;
}

/** What was said with a log. */
export interface LogWords {
	kind: 'drive' | 'problem';
	words: string;
	/** The marked moment of a problem, seconds into the log. */
	momentS: number | null;
	answers: Record<string, string>;
	/** The day, and where its sensors sat. */
	conditions?: Conditions | null;
	/** How the file is laid out, where that had to be said. */
	layout?: LayoutHint | null;
	/** The frozen revision that it was made with, where that was said. */
	revisionId?: number | null;
}

const SILENT: LogWords = { kind: 'drive', words: '', momentS: null, answers: {} };

/** Puts a received file into a job as a log and starts reading it. */
export async function addLog(
	app: Reader,
	jobId: number,
	name: string,
	file: StoredFile,
	sentBy: 'tuner' | 'customer',
	{ words = SILENT, now = new Date() }: { words?: LogWords; now?: Date } = {}
): Promise<Received> {
	// Looked for and written in one: the same file twice at the same moment is one log.
	const log = await app.db
		.transaction()
		.execute((db) => storeLog(db, jobId, name, file, { sentBy, words, now }));
	arrived(file);
	if (!log.duplicate) startLog(app, log.id);
	return log;
}

async function storeLog(
	db: Db,
	jobId: number,
	name: string,
	file: StoredFile,
	{ sentBy, words, now }: { sentBy: 'tuner' | 'customer'; words: LogWords; now: Date }
): Promise<Received> {
	const same = await sameBytes(db, jobId, file.sha256);
	if (same !== null) return { id: same, duplicate: true };
	if (
		words.revisionId &&
		!(await revisionsOf(db, jobId)).some((r) => r.id === words.revisionId && r.state !== 'draft')
	)
		throw new InputError('a log is made with a revision that was received or released in this job');
	const id = await nextId(db, 'logs');
	await db
		.insertInto('logs')
		.values({
			id,
			job_id: jobId,
			revision_id: words.revisionId ?? (await revisionInCar(db, jobId, sentBy)),
			// A problem is recorded as it comes; only a drive answers the plan.
			request_id: words.kind === 'drive' ? ((await currentRequest(db, jobId))?.id ?? null) : null,
			kind: words.kind,
			words: words.words,
			moment_s: words.momentS,
			answers: JSON.stringify(words.answers),
			conditions: words.conditions ? JSON.stringify(words.conditions) : null,
			layout: words.layout ? JSON.stringify(words.layout) : null,
			name: safeName(name),
			sha256: file.sha256,
			bytes: file.bytes,
			sent_by: sentBy,
			state: 'received',
			received_at: now.toISOString()
		})
		.execute();
	if (words.layout) await rememberLayout(db, await customerOfJob(db, jobId), words.layout, now);
	await setWaiting(db, jobId, 'tuner', now);
	return { id, duplicate: false };
}

/**
 * Which revision a log was made with when nobody says: the tuner speaks of the current one; of a customer's it is the one that the
 * customer last confirmed to be in the car, else the calibration as the car came.
 */
async function revisionInCar(db: Db, jobId: number, sentBy: 'tuner' | 'customer'): Promise<number> {
	return sentBy === 'tuner' ? (await currentRevision(db, jobId)).id : (await confirmedRevision(db, jobId)).id;
}

async function sameBytes(db: Db, jobId: number, sha256: string): Promise<number | null> {
	const row = await db
		.selectFrom('logs')
		.select('id')
		.where('job_id', '=', jobId)
		.where('sha256', '=', sha256)
		.executeTakeFirst();
	return row?.id ?? null;
}
