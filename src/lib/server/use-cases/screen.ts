/** From received to screened: hands logs to the workers, records how it ended, takes up what a stop left undone. */
import type { App } from '$lib/server/context.ts';
import { fieldsOf } from '$lib/server/views/log-fields.ts';
import { packFile } from '$lib/server/storage/files.ts';
import { hasRoom, isFull, isLocked } from '$lib/server/storage/disk-space.ts';
import { dropRuns } from '$lib/server/logs/store-columns.ts';
import { outdatedLog } from '$lib/server/logs/screenings.ts';
import { CHECKS_VERSION } from '$lib/server/db/checks-version.ts';
import { bindArrived } from './answer-swap.ts';
import { Stopped, TookTooLong } from '$lib/server/workers/pool.ts';

/** What reading a log takes of the application. */
export type Reader = Pick<App, 'db' | 'dataDir' | 'pool' | 'logger'>;

const LOOK_FOR_ROOM_MS = 5000;

const running = new Set<Promise<void>>();

/** Starts reading and screening a log; returns at once. */
export function startLog(app: Reader, logId: number): void {
	// A promise that nobody waits for may not reject: it would take the process along.
	const work = processLog(app, logId)
		.catch((e: unknown) => {
			if (isFull(e) || isLocked(e)) return later(app, logId);
			app.logger.error({ err: e, logId }, 'the end of a reading could not be recorded');
		})
		.finally(() => running.delete(work));
	running.add(work);
}

/** A full disk or a locked database is nobody's fault: the log waits where it is, and goes on when that is over. */
function later(app: Reader, logId: number): void {
	app.logger.warn({ logId }, 'no room on the disk to read this log, or the database is locked; it waits');
	setTimeout(() => startLog(app, logId), LOOK_FOR_ROOM_MS).unref();
}

/** Waits until no log is being read: for seeding, stopping and tests. */
export async function settled(): Promise<void> {
	while (running.size) await Promise.all(running);
}

async function processLog(app: Reader, logId: number): Promise<void> {
	const { db, dataDir, pool, logger } = app;
	const end = (change: { state: 'received' | 'failed'; message?: string | null; seen?: string | null }) =>
		db.updateTable('logs').set(change).where('id', '=', logId).execute();
	try {
		const log = await db.selectFrom('logs').select('bytes').where('id', '=', logId).executeTakeFirst();
		if (!log) return;
		if (!(await hasRoom(dataDir, log.bytes))) return later(app, logId);
		const result = await pool.run(
			'readLog',
			{ dataDir, logId },
			{
				logBytes: log.bytes,
				onStart: async () => {
					await db
						.updateTable('logs')
						.set({ state: 'reading', progress: 0 })
						.where('id', '=', logId)
						.execute();
				}
			}
		);
		if (!result.ok && result.waits) {
			await dropRuns(db, logId);
			await end({ state: 'received' });
			return later(app, logId);
		}
		if (!result.ok)
			await end({
				state: 'failed',
				message: result.message,
				seen: result.seen && JSON.stringify(result.seen)
			});
	} catch (e) {
		if (e instanceof Stopped) {
			// Nobody's fault: it goes on at the next start.
			await end({ state: 'received' });
			return;
		}
		if (isFull(e) || isLocked(e)) throw e;
		logger.error({ err: e, logId }, 'screening failed');
		await end({
			state: 'failed',
			message:
				e instanceof TookTooLong
					? 'Reading this log took too long and was given up; the file is kept. Cut the recording into parts.'
					: 'Something went wrong in Tanto while reading this log; the file is kept. Try "read again".'
		});
		return;
	}
	// The page that asks what became of a change needs the field of the log: worked out before anybody asks.
	await fieldsOf(app, logId).catch((e: unknown) =>
		app.logger.warn(
			{ err: e, logId },
			'the field of a log could not be worked out; it is when it is asked for'
		)
	);
	const moved = await bindArrived(app, logId).catch((e: unknown) => {
		app.logger.warn(
			{ err: e, logId },
			'a swap test could not be answered; it is when the log is chosen for it'
		);
		return false;
	});
	// The test says where its sensor sat: the log is screened as that bank.
	if (moved) return processLog(app, logId);
	// What is screened stays screened, whatever becomes of its file.
	await pack(app, logId).catch((e: unknown) =>
		logger.warn({ err: e, logId }, 'the file of a log could not be compressed; it stays as it came')
	);
}

/**
 * Screens anew, one log after another and behind everything else, what was screened by other checks than today's. Until the new
 * screening stands the older one counts; one that can't be made leaves it as it is. Goes on at the next start.
 * @param jobId a job that is done or archived and was opened; all open ones when missing
 */
export function renewScreenings(app: Reader, jobId?: number): void {
	const failed = failedBefore(app.db);
	const work = (async () => {
		for (let below = Number.MAX_SAFE_INTEGER; ;) {
			const log = await outdatedLog(app.db, CHECKS_VERSION, below, jobId);
			if (!log) return;
			below = log.id;
			if (failed.has(log.id)) continue;
			if (!(await hasRoom(app.dataDir, log.bytes))) return;
			const task = { dataDir: app.dataDir, logId: log.id };
			// One that breaks or takes too long keeps its older screening; the others are made all the same.
			const result = await app.pool.run('screenAgain', task, { logBytes: log.bytes }).catch((e: unknown) => {
				if (e instanceof Stopped) throw e;
				return { ok: false, err: e } as const;
			});
			if (!result.ok) {
				failed.add(log.id);
				app.logger.warn(
					{ ...result, logId: log.id },
					'could not be screened anew; its older screening stays'
				);
			}
		}
	})()
		.catch((e: unknown) => {
			if (!(e instanceof Stopped)) app.logger.error({ err: e }, 'screening anew ended early');
		})
		.finally(() => running.delete(work));
	running.add(work);
}

/** Logs that could not be screened anew since the start: not tried again and again. */
const failures = new WeakMap<object, Set<number>>();
function failedBefore(db: object): Set<number> {
	const known = failures.get(db) ?? new Set();
	failures.set(db, known);
	return known;
}

/** After the verdict is there, the received file is compressed: nobody waits for it. */
async function pack(app: Pick<App, 'db' | 'dataDir'>, logId: number): Promise<void> {
	const log = await app.db
		.selectFrom('logs')
		.select(['sha256', 'packed'])
		.where('id', '=', logId)
		.executeTakeFirst();
	if (!log || log.packed) return;
	await packFile(app.dataDir, log.sha256);
	await app.db.updateTable('logs').set({ packed: 1 }).where('id', '=', logId).execute();
}

/** Logs that were received or being read when the server stopped are read again; columns that were half stored go. */
export async function resumeLogs(app: Reader): Promise<void> {
	await dropRuns(app.db);
	const rows = await app.db
		.selectFrom('logs')
		.select('id')
		.where('state', 'in', ['received', 'reading'])
		.orderBy('id')
		.execute();
	if (rows.length)
		await app.db.updateTable('logs').set({ state: 'received' }).where('state', '=', 'reading').execute();
	for (const { id } of rows) startLog(app, id);
}
