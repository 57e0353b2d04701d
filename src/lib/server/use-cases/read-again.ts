/** A log is read anew after somebody said what it is: how it is laid out, what a column means, which revision it was made with. */
import { assignmentKey, type Assignment } from '$core/channels/recognise.ts';
import { InputError } from '$core/input-error.ts';
import type { LayoutHint } from '$core/logfile/layout-hint.ts';
import type { App } from '$lib/server/context.ts';
import { customerOfJob } from '$lib/server/jobs/jobs.ts';
import { rememberLayout } from '$lib/server/logs/file-layouts.ts';
import type { LogLine } from '$lib/server/logs/logs.ts';
import { revisionsOf } from '$lib/server/revisions/revisions.ts';
import type { Conditions } from '$core/vehicle/conditions.ts';
import { startLog, type Reader } from './screen.ts';

/** Remembers for this customer what a column is, and reads the log again with it. */
export async function assignColumn(
	app: App,
	log: LogLine,
	customerId: number,
	column: { name: string; unit: string },
	assignment: Assignment
): Promise<void> {
	await app.db
		.insertInto('assignments')
		.values({ customer_id: customerId, key: assignmentKey(column.name, column.unit), ...assignment })
		.onConflict((c) => c.columns(['customer_id', 'key']).doUpdateSet(assignment))
		.execute();
	await readAgain(app, log.id);
}

/** Reads a log as a person said that it is laid out, and remembers it for this customer's next files. */
export async function sayLayout(app: App, log: LogLine, hint: LayoutHint): Promise<void> {
	await app.db
		.updateTable('logs')
		.set({ layout: JSON.stringify(hint) })
		.where('id', '=', log.id)
		.execute();
	await rememberLayout(app.db, await customerOfJob(app.db, log.jobId), hint);
	await readAgain(app, log.id);
}

/** Says what the day of a log was like and where its sensors sat, and reads it again with that; `null` takes it back. */
export async function sayConditions(
	app: Reader,
	log: Pick<LogLine, 'id' | 'conditions'>,
	conditions: Conditions | null
): Promise<void> {
	const text = conditions && JSON.stringify(conditions);
	if (text === (log.conditions && JSON.stringify(log.conditions))) return;
	await app.db.updateTable('logs').set({ conditions: text }).where('id', '=', log.id).execute();
	await readAgain(app, log.id);
}

/** Judges all logs of a job anew: something that they are judged by has changed. */
export async function readJobAgain(app: Reader, jobId: number): Promise<void> {
	const logs = await app.db
		.selectFrom('logs')
		.select('id')
		.where('job_id', '=', jobId)
		.where('state', 'in', ['screened', 'failed'])
		.execute();
	for (const log of logs) await readAgain(app, log.id);
}

export async function readAgain(app: Reader, logId: number): Promise<void> {
	await app.db
		.updateTable('logs')
		.set({ state: 'received', message: null, seen: null, progress: 0 })
		.where('id', '=', logId)
		.execute();
	startLog(app, logId);
}

/** States that a log was made with another frozen revision of its job, and screens it again. */
export async function restate(app: App, log: LogLine, revisionId: number): Promise<void> {
	const lines = await revisionsOf(app.db, log.jobId);
	if (!lines.some((r) => r.id === revisionId && r.state !== 'draft'))
		throw new InputError('a log is made with a revision that was received or released in this job');
	await app.db.updateTable('logs').set({ revision_id: revisionId }).where('id', '=', log.id).execute();
	await readAgain(app, log.id);
}
