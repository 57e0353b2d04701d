/** What the server side hangs on: the database, the accounts, the data folder, the pool of workers, the mail. One per process. */
import { mkdirSync } from 'node:fs';
import { resolve } from 'node:path';
import pino from 'pino';
import { hasTuners, openAccounts, type Auth } from './auth/accounts.ts';
import { connect, migrate, type Db } from './db/open.ts';
import { clearIncoming } from './files.ts';
import { openMailer, type Mailer } from './mail/mailer.ts';
import { resumeLogs } from './processing.ts';
import { newToken } from './tokens.ts';
import { clearUploads } from './uploads.ts';
import { createPool, type WorkerPool } from './workers/pool.ts';

export interface App {
	db: Db;
	auth: Auth;
	dataDir: string;
	pool: WorkerPool;
	mailer: Mailer;
	logger: pino.Logger;
	/** Asked for by the page that makes the owner; `null` once there is one. */
	setupCode: string | null;
	/** The demo world: signing in takes one click. */
	demo: boolean;
}

export function dataDirFromEnvironment(): string {
	return resolve(process.env['TANTO_DATA_DIR'] ?? './data');
}

export async function openApp(dataDir: string): Promise<App> {
	mkdirSync(dataDir, { recursive: true });
	const logger = pino({ level: process.env['TANTO_LOG_LEVEL'] ?? 'info' });
	const db = connect(dataDir);
	await migrate(db);
	const auth = await openAccounts(db, dataDir);
	await clearIncoming(dataDir);
	// Old pieces are a nuisance, no reason not to start.
	await clearUploads(dataDir).catch((e: unknown) => logger.warn({ err: e }, 'old uploads were not cleared'));
	const setupCode = (await hasTuners(db)) ? null : newToken().slice(0, 12);
	const demo = process.env['TANTO_DEMO'] === '1';
	const app: App = {
		db,
		auth,
		dataDir,
		pool: createPool(),
		mailer: await openMailer(db, logger, demo),
		logger,
		setupCode,
		demo
	};
	await resumeLogs(app);
	return app;
}

export async function closeApp(app: App): Promise<void> {
	await app.mailer.close();
	await app.pool.destroy();
	await app.db.destroy();
}
