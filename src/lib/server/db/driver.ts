/**
 * Kysely on SQLite for a process that also answers requests. Nothing waits inside SQLite for another connection's lock: a statement that
 * finds the database locked is asked again a little later, and in the meantime the thread does other things. Reads go over a connection of
 * their own, so that no page waits behind a write that waits; writes and transactions follow each other.
 */
import type Sqlite from 'better-sqlite3';
import {
	CompiledQuery,
	SelectQueryNode,
	SqliteAdapter,
	SqliteIntrospector,
	SqliteQueryCompiler,
	type DatabaseConnection,
	type Dialect,
	type Driver,
	type Kysely,
	type QueryResult
} from 'kysely';

/** Given up after this long, with the database's own words. */
const PATIENCE_MS = 30_000;
const FIRST_PAUSE_MS = 5;
const LONGEST_PAUSE_MS = 50;

const isBusy = (e: unknown) =>
	typeof e === 'object' && e !== null && 'code' in e && /^SQLITE_(BUSY|LOCKED)/.test(String(e.code));

/** Does `work`, again and again while another connection holds the lock. */
async function patiently<T>(work: () => T): Promise<T> {
	const until = performance.now() + PATIENCE_MS;
	for (let pause = FIRST_PAUSE_MS; ; pause = Math.min(LONGEST_PAUSE_MS, pause * 2)) {
		try {
			return work();
		} catch (e) {
			if (!isBusy(e) || performance.now() > until) throw e;
			await new Promise((r) => setTimeout(r, pause));
		}
	}
}

function run<R>(db: Sqlite.Database, { sql, parameters }: CompiledQuery): QueryResult<R> {
	const statement = db.prepare(sql);
	if (statement.reader) return { rows: statement.all(parameters) as R[] };
	const { changes, lastInsertRowid } = statement.run(parameters);
	return { numAffectedRows: BigInt(changes), insertId: BigInt(lastInsertRowid), rows: [] };
}

/** Lets one at a time through, in order. */
class Turns {
	private last: Promise<void> = Promise.resolve();

	async take(): Promise<() => void> {
		let done!: () => void;
		const mine = new Promise<void>((r) => (done = r));
		const before = this.last;
		this.last = before.then(() => mine);
		await before;
		return done;
	}
}

class Connection implements DatabaseConnection {
	/** Ends this connection's turn; `null` while it has none. */
	release: (() => void) | null = null;

	constructor(
		private readonly writer: Sqlite.Database,
		private readonly reader: Sqlite.Database,
		private readonly turns: Turns
	) {}

	async executeQuery<R>(query: CompiledQuery): Promise<QueryResult<R>> {
		if (this.release) return patiently(() => run<R>(this.writer, query));
		if (SelectQueryNode.is(query.query as SelectQueryNode))
			return patiently(() => run<R>(this.reader, query));
		const done = await this.turns.take();
		try {
			return await patiently(() => run<R>(this.writer, query));
		} finally {
			done();
		}
	}

	async *streamQuery<R>(): AsyncIterableIterator<QueryResult<R>> {
		throw new Error('queries are not streamed');
	}

	async begin(): Promise<void> {
		this.release = await this.turns.take();
		try {
			// The lock comes with the beginning: nothing inside can find it taken.
			await patiently(() => this.writer.exec('begin immediate'));
		} catch (e) {
			this.leave();
			throw e;
		}
	}

	async end(statement: 'commit' | 'rollback'): Promise<void> {
		try {
			await patiently(() => this.writer.exec(statement));
		} finally {
			this.leave();
		}
	}

	private leave(): void {
		this.release?.();
		this.release = null;
	}
}

class PatientDriver implements Driver {
	private readonly turns = new Turns();

	constructor(
		private readonly writer: Sqlite.Database,
		private readonly reader: Sqlite.Database
	) {}

	async init(): Promise<void> {}
	async acquireConnection(): Promise<DatabaseConnection> {
		return new Connection(this.writer, this.reader, this.turns);
	}
	async beginTransaction(connection: DatabaseConnection): Promise<void> {
		await (connection as Connection).begin();
	}
	async commitTransaction(connection: DatabaseConnection): Promise<void> {
		await (connection as Connection).end('commit');
	}
	async rollbackTransaction(connection: DatabaseConnection): Promise<void> {
		await (connection as Connection).end('rollback');
	}
	async releaseConnection(): Promise<void> {}
	async destroy(): Promise<void> {
		this.reader.close();
		this.writer.close();
	}
}

export class PatientDialect implements Dialect {
	constructor(
		private readonly writer: Sqlite.Database,
		private readonly reader: Sqlite.Database
	) {}
	createAdapter = () => new SqliteAdapter();
	createDriver = () => new PatientDriver(this.writer, this.reader);
	createIntrospector = (db: Kysely<unknown>) => new SqliteIntrospector(db);
	createQueryCompiler = () => new SqliteQueryCompiler();
}
