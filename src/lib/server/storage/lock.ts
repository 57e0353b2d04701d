/**
 * One server a data folder. The lock is the operating system's, held by an open transaction on a small database: it goes with the process,
 * however that ends, and nobody has to guess from a number whether the other one still lives.
 */
import Sqlite from 'better-sqlite3';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

export interface FolderLock {
	release(): void;
}

/** @throws Error in a sentence when another process serves this folder, or nothing can be written there */
export function lockFolder(dataDir: string): FolderLock {
	const who = join(dataDir, 'server');
	let db: Sqlite.Database | undefined;
	try {
		db = new Sqlite(join(dataDir, 'lock.sqlite'), { timeout: 0 });
		db.pragma('journal_mode = DELETE');
		db.exec('begin exclusive');
		writeFileSync(who, `process ${process.pid}, since ${new Date().toISOString()}`);
	} catch (e) {
		db?.close();
		const code = String((e as { code?: string }).code ?? '');
		if (code.startsWith('SQLITE_BUSY')) {
			let other = '';
			try {
				other = ` (${readFileSync(who, 'utf8')})`;
			} catch {
				// It has not said who it is; that it is there is enough.
			}
			throw new Error(
				`another Tanto server already works in ${dataDir}${other}. End it first, or give this one a folder of its own (TANTO_DATA_DIR).`
			);
		}
		throw new Error(
			`nothing can be written in ${dataDir} (${e instanceof Error ? e.message : code}). Tanto needs a folder that it may write to.`
		);
	}
	return { release: () => db.close() };
}
