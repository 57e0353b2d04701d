/** Second recorders of a log: an instrument's own file, aligned by a channel that both have, and taken off again. */
import { InputError } from '$core/input-error.ts';
import type { Alignment } from '$core/logfile/join.ts';
import type { Db } from '$lib/server/db/open.ts';
import { safeName, type StoredFile } from '$lib/server/storage/files.ts';
import type { LogLine } from '$lib/server/logs/logs.ts';
import { dropFile } from '$lib/server/storage/stored-files.ts';
import { readAgain } from './read-again.ts';
import type { Reader } from './screen.ts';

export interface SecondRecorder {
	id: number;
	name: string;
	alignment: Alignment;
	author: string;
	at: string;
}

/** The first joined first. */
export async function recordersOf(db: Db, logId: number): Promise<SecondRecorder[]> {
	const rows = await db
		.selectFrom('second_recorders')
		.select(['id', 'name', 'answer', 'author', 'created_at'])
		.where('log_id', '=', logId)
		.orderBy('id')
		.execute();
	return rows.map((r) => ({
		id: r.id,
		name: r.name,
		alignment: JSON.parse(r.answer) as Alignment,
		author: r.author,
		at: r.created_at
	}));
}

/**
 * Joins the file to the log and reads it again with it. Sent twice it is joined once.
 * @throws InputError where the two are not of one drive, saying why; nothing is stored then
 */
export async function joinRecorder(
	app: Reader,
	log: Pick<LogLine, 'id' | 'state'>,
	file: StoredFile,
	name: string,
	author: string,
	now = new Date()
): Promise<Alignment> {
	if (log.state !== 'screened') throw new InputError('the log itself has to be read before another joins it');
	const known = await app.db
		.selectFrom('second_recorders')
		.select('answer')
		.where('log_id', '=', log.id)
		.where('sha256', '=', file.sha256)
		.executeTakeFirst();
	if (known) return JSON.parse(known.answer) as Alignment;
	const answer = await app.pool.run('join', { dataDir: app.dataDir, logId: log.id, file });
	if (!answer.ok) {
		await dropFile(app.db, app.dataDir, file.sha256);
		throw new InputError(answer.message);
	}
	const { alignment } = answer;
	if (alignment.channels.length === 0) {
		await dropFile(app.db, app.dataDir, file.sha256);
		throw new InputError('it has no channel that the log lacks: there is nothing to join');
	}
	const added = await app.db
		.insertInto('second_recorders')
		.values({
			log_id: log.id,
			name: safeName(name),
			bytes: file.bytes,
			sha256: file.sha256,
			answer: JSON.stringify(alignment),
			author,
			created_at: now.toISOString()
		})
		.onConflict((c) => c.columns(['log_id', 'sha256']).doNothing())
		.executeTakeFirst();
	if (added.numInsertedOrUpdatedRows) await readAgain(app, log.id);
	return alignment;
}

/** Takes a recorder off its log, which is read again without it. */
export async function removeRecorder(app: Reader, logId: number, id: number): Promise<void> {
	const row = await app.db
		.selectFrom('second_recorders')
		.select('sha256')
		.where('log_id', '=', logId)
		.where('id', '=', id)
		.executeTakeFirst();
	if (!row) return;
	await app.db.deleteFrom('second_recorders').where('id', '=', id).execute();
	await dropFile(app.db, app.dataDir, row.sha256);
	await readAgain(app, logId);
}
