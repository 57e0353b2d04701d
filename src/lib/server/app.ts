/** Opens what the server side hangs on, and closes it in order. One per process. */
import { chmodSync, mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import pino from 'pino';
import { hasTuners, openAccounts } from '$lib/server/auth/accounts.ts';
import type { App } from './context.ts';
import { connect, DATABASE_FILE, migrate } from '$lib/server/db/open.ts';
import { clearIncoming } from '$lib/server/storage/files.ts';
import { openMailer } from '$lib/server/mail/mailer.ts';
import { lockFolder } from '$lib/server/storage/lock.ts';
import { sweep } from '$lib/server/erasure/sweep.ts';
import { keepSpare } from '$lib/server/storage/spare-space.ts';
import { renewScreenings, resumeLogs, settled } from '$lib/server/use-cases/screen.ts';
import { newToken } from '$lib/server/storage/tokens.ts';
import { clearUploads, completeUploads } from '$lib/server/use-cases/uploads.ts';
import { createPool } from '$lib/server/workers/pool.ts';

const CLEAR_EVERY_MS = 3_600_000;

export function dataDirFromEnvironment(): string {
	return resolve(process.env['TANTO_DATA_DIR'] ?? './data');
}

/** Takes everybody else's rights on a path away; where it isn't ours, whoever set it up decides. */
function closeToOthers(path: string, mode: number): void {
	try {
		chmodSync(path, mode);
	} catch {
		// A folder that another account owns, or a disk that knows no rights.
	}
}

export async function openApp(dataDir: string): Promise<App> {
	try {
		// What customers sent is for the account that runs the server alone.
		mkdirSync(dataDir, { recursive: true, mode: 0o700 });
	} catch (e) {
		throw new Error(
			`the data folder ${dataDir} can't be made (${e instanceof Error ? e.message : String(e)})`
		);
	}
	closeToOthers(dataDir, 0o700);
	const lock = lockFolder(dataDir);
	const logger = pino({ level: process.env['TANTO_LOG_LEVEL'] ?? 'info' });
	const db = connect(dataDir);
	await migrate(db);
	closeToOthers(join(dataDir, DATABASE_FILE), 0o600);
	const auth = await openAccounts(db, dataDir);
	await clearIncoming(dataDir);
	// Old pieces are a nuisance, no reason not to start.
	const clear = async () => {
		try {
			await clearUploads(dataDir);
			await keepSpare(dataDir);
			const swept = await sweep(db, dataDir);
			if (swept.files + swept.uploads) logger.info(swept, 'what no row names was taken away');
		} catch (e) {
			logger.warn({ err: e }, 'old uploads and files were not cleared');
		}
	};
	void clear();
	const clearing = setInterval(() => void clear(), CLEAR_EVERY_MS);
	clearing.unref();
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
		demo,
		lock,
		clearing
	};
	await completeUploads(app);
	await resumeLogs(app);
	renewScreenings(app);
	return app;
}

export async function closeApp(app: App): Promise<void> {
	clearInterval(app.clearing);
	await app.mailer.close();
	// What is in hand ends, or goes back to where it was; either is written down before the database closes.
	await app.pool.stop();
	await settled();
	await app.db.destroy();
	app.lock.release();
}
