/** What every task of a worker thread has in common: its database, and how a fault of the input comes back as a value. */
import { InputError } from '$core/input-error.ts';
import { connect, type Db } from '$lib/server/db/open.ts';

/** Where a task works. */
export interface Place {
	dataDir: string;
}

/** What came of it; the fault is one of the input, and shown to users. */
export type Answer<T extends object> = ({ ok: true } & T) | { ok: false; message: string };

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

/** Makes a task of what it computes: `run` gets the input and the database, and may throw an `InputError`. */
export function task<In extends Place, Out extends object>(
	run: (input: In, db: Db) => Promise<Out>
): (input: In) => Promise<Answer<Out>> {
	return async (input) => {
		try {
			return { ok: true, ...(await run(input, database(input.dataDir))) };
		} catch (e) {
			return { ok: false, message: messageOf(e) };
		}
	};
}
