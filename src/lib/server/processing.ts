/** From received to screened: hands logs to the workers, records how it ended, takes up what a stop left undone. */
import type { App } from './app.ts';
import { packFile } from './files.ts';

const running = new Set<Promise<void>>();

/** Starts reading and screening a log; returns at once. */
export function startLog(app: Pick<App, 'db' | 'dataDir' | 'pool' | 'logger'>, logId: number): void {
	const work = processLog(app, logId).finally(() => running.delete(work));
	running.add(work);
}

/** Waits until no log is being read: for seeding and tests. */
export async function settled(): Promise<void> {
	while (running.size) await Promise.all(running);
}

async function processLog(
	app: Pick<App, 'db' | 'dataDir' | 'pool' | 'logger'>,
	logId: number
): Promise<void> {
	const { db, dataDir, pool, logger } = app;
	try {
		await db.updateTable('logs').set({ state: 'reading', progress: 0 }).where('id', '=', logId).execute();
		const result = await pool.processLog({ dataDir, logId });
		if (!result.ok)
			await db
				.updateTable('logs')
				.set({
					state: 'failed',
					message: result.message,
					seen: result.seen && JSON.stringify(result.seen)
				})
				.where('id', '=', logId)
				.execute();
		await pack(app, logId);
	} catch (e) {
		logger.error({ err: e, logId }, 'screening failed');
		await db
			.updateTable('logs')
			.set({
				state: 'failed',
				message:
					e instanceof Error && e.name === 'AbortError'
						? 'Reading this log took too long and was given up; the file is kept. Cut the recording into parts.'
						: 'Something went wrong in Tanto while reading this log; the file is kept. Try "read again".'
			})
			.where('id', '=', logId)
			.execute();
	}
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

/** Logs that were received or being read when the server stopped are read again. */
export async function resumeLogs(app: Pick<App, 'db' | 'dataDir' | 'pool' | 'logger'>): Promise<void> {
	const rows = await app.db
		.selectFrom('logs')
		.select('id')
		.where('state', 'in', ['received', 'reading'])
		.execute();
	for (const { id } of rows) startLog(app, id);
}
