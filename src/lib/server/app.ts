/** What the server side hangs on: the database, the data folder, the pool of workers. One per process. */
import { mkdirSync } from 'node:fs';
import { resolve } from 'node:path';
import pino from 'pino';
import { connect, migrate, type Db } from './db/open.ts';
import { clearIncoming } from './files.ts';
import { resumeLogs } from './processing.ts';
import { createPool, type WorkerPool } from './workers/pool.ts';

export interface App {
	db: Db;
	dataDir: string;
	pool: WorkerPool;
	logger: pino.Logger;
}

export function dataDirFromEnvironment(): string {
	return resolve(process.env['TANTO_DATA_DIR'] ?? './data');
}

export async function openApp(dataDir: string): Promise<App> {
	mkdirSync(dataDir, { recursive: true });
	const logger = pino({ level: process.env['TANTO_LOG_LEVEL'] ?? 'info' });
	const db = connect(dataDir);
	await migrate(db);
	await clearIncoming(dataDir);
	const app: App = { db, dataDir, pool: createPool(), logger };
	await resumeLogs(app);
	return app;
}

export async function closeApp(app: App): Promise<void> {
	await app.pool.destroy();
	await app.db.destroy();
}
