/** Opens the database of a data folder. */
import Sqlite from 'better-sqlite3';
import { Kysely, Migrator } from 'kysely';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { PatientDialect } from './driver.ts';
import { migrations } from './migrations.ts';
import type { Database } from './schema.ts';

export type Db = Kysely<Database>;

export const DATABASE_FILE = 'tanto.sqlite';

function open(dataDir: string): Sqlite.Database {
	const sqlite = new Sqlite(join(dataDir, DATABASE_FILE));
	// Whoever finds the database locked asks again, asynchronously (`driver.ts`); the thread never stands still for it.
	sqlite.pragma('busy_timeout = 0');
	for (let tries = 0; ; tries++)
		try {
			sqlite.pragma('journal_mode = WAL');
			break;
		} catch (e) {
			// Two that open a new database at the same moment: one of them makes it.
			if (tries > 100) throw e;
			Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 20);
		}
	sqlite.pragma('foreign_keys = ON');
	// What is deleted is overwritten: a customer who left is in no page of the file.
	sqlite.pragma('secure_delete = ON');
	// What was acknowledged is on disk when the power fails.
	sqlite.pragma('synchronous = FULL');
	return sqlite;
}

/** Connections with write-ahead log and foreign keys on: one that writes, one that reads. Workers and the server have a pair each. */
export function connect(dataDir: string): Db {
	mkdirSync(dataDir, { recursive: true });
	return new Kysely<Database>({ dialect: new PatientDialect(open(dataDir), open(dataDir)) });
}

/** Brings the schema up to date; throws and leaves the database as it was when a migration fails. */
export async function migrate(db: Db): Promise<void> {
	const migrator = new Migrator({ db, provider: { getMigrations: async () => migrations } });
	const { error } = await migrator.migrateToLatest();
	if (error) throw error;
}
