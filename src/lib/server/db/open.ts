/** Opens the database of a data folder. */
import Sqlite from 'better-sqlite3';
import { Kysely, Migrator, SqliteDialect } from 'kysely';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { migrations } from './migrations.ts';
import type { Database } from './schema.ts';

export type Db = Kysely<Database>;

/** A connection with write-ahead log and foreign keys on. Workers and the server have one each. */
export function connect(dataDir: string): Db {
	mkdirSync(dataDir, { recursive: true });
	const sqlite = new Sqlite(join(dataDir, 'tanto.sqlite'));
	sqlite.pragma('journal_mode = WAL');
	sqlite.pragma('foreign_keys = ON');
	sqlite.pragma('busy_timeout = 10000');
	sqlite.pragma('synchronous = NORMAL');
	return new Kysely<Database>({ dialect: new SqliteDialect({ database: sqlite }) });
}

/** Brings the schema up to date; throws and leaves the database as it was when a migration fails. */
export async function migrate(db: Db): Promise<void> {
	const migrator = new Migrator({ db, provider: { getMigrations: async () => migrations } });
	const { error } = await migrator.migrateToLatest();
	if (error) throw error;
}
