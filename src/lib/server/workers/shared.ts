/** What the tasks of a worker thread have in common. */
import { InputError } from '../../../core/input-error.ts';
import { connect, type Db } from '../db/open.ts';

const connections = new Map<string, Db>();
/** One connection of a worker thread for each data folder. */
export function database(dataDir: string): Db {
	let db = connections.get(dataDir);
	if (!db) connections.set(dataDir, (db = connect(dataDir)));
	return db;
}

/** The message of a fault of the input; anything else is a fault of ours and goes up. */
export function messageOf(e: unknown): string {
	if (e instanceof InputError) return e.message;
	throw e;
}
