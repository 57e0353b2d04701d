/**
 * A job out of the archive of another Tanto: every row under a new id, every file under its hash, the timeline in its order. All of it or none. What is
 * worked out from the rest is worked out anew: the logs are read again.
 */
import { sql, type Transaction } from 'kysely';
import { z } from 'zod';
import { parseCalibration } from '$core/calibration/document.ts';
import { maximaSchema } from '$core/evidence/maxima.ts';
import { parseGoal } from '$core/fuelling/goal.ts';
import { briefOf } from '$core/screening/brief.ts';
import type { Report } from '$core/screening/report.ts';
import { InputError } from '$core/input-error.ts';
import { parseJson, parseWith } from '$core/parse.ts';
import { parsePlugs } from '$core/plugs/document.ts';
import { parseRequest } from '$core/request.ts';
import { parseSwap } from '$core/swaps/document.ts';
import { parseVehicle } from '$core/vehicle/document.ts';
import { LOSES_ROWS, nextId, type LosesRows } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { Database } from '$lib/server/db/schema.ts';
import { TIMELINE_TABLES } from '$lib/server/jobs/timeline-event.ts';
import { contentHash } from '$lib/server/revisions/revisions.ts';
import { isFull, isLocked } from '$lib/server/storage/disk-space.ts';
import { arrived, pathOfFile, receive, type StoredFile } from '$lib/server/storage/files.ts';
import { dropFile, STORED_IN } from '$lib/server/storage/stored-files.ts';
import { startLog, type Reader } from '$lib/server/use-cases/screen.ts';
import type { ReadableStream } from 'node:stream/web';
import { belongings, references, type Reference } from './belongings.ts';
import { openArchive, type ArchivedRow, type ArchiveRecord, type OpenedArchive } from './open.ts';
import { readWhole } from './readable.ts';
import { DERIVED } from './record.ts';

/** A log may have 1 GB, a job many of them. */
export const MAX_ARCHIVE_BYTES = 32 * 2 ** 30;
/** Doors, sessions of practice, and columns that are read again from their file. */
const LEFT: ReadonlySet<string> = new Set([...DERIVED, 'links', 'practice_sessions', 'log_channels']);
/** Of a report what every Tanto has written: the newest is made anew from the log in any case. */
const reportHead = z.looseObject({
	findings: z.array(z.looseObject({ code: z.string(), severity: z.string() }))
});

/** Documents by their place, each with what reads it. */
const DOCUMENTS: Readonly<Record<string, (value: unknown) => unknown>> = {
	'vehicles.document': parseVehicle,
	'revisions.document': parseCalibration,
	'jobs.goal': parseGoal,
	'requests.document': parseRequest,
	'swap_tests.document': parseSwap,
	'plug_readings.document': parsePlugs,
	'maxima_readings.document': (v) => parseWith(maximaSchema, v),
	'screenings.report': (v) => briefOf(parseWith(reportHead, v) as unknown as Report),
	'screenings.cells': (v) => v,
	'screenings.pulls': (v) => v,
	'screenings.unmapped': (v) => v
};

/** Of a customer's files: what columns and layouts were said to be. */
const REMEMBERED: ReadonlySet<string> = new Set(['assignments', 'layouts']);

type Ids = Map<string, Map<number, number>>;
type Trx = Transaction<Database>;

/** Takes a body in as an archive. @returns id of the new job @throws InputError where it is none, or isn't whole */
export async function importArchive(app: Reader, body: ReadableStream<Uint8Array>): Promise<number> {
	const { db, dataDir } = app;
	const zip = await receive(dataDir, body, MAX_ARCHIVE_BYTES);
	const files: StoredFile[] = [];
	try {
		const opened = await openArchive(dataDir, pathOfFile(dataDir, zip.sha256), files);
		const { jobId, logs } = await db.transaction().execute((trx) => rowsIn(trx, opened));
		for (const id of logs) startLog(app, id);
		return jobId;
	} finally {
		for (const file of [...files, zip]) {
			arrived(file);
			// What no row names goes again: the archive itself, and all of it where it was refused.
			await dropFile(db, dataDir, file.sha256);
		}
	}
}

interface Table {
	name: string;
	/** Its columns, each with whether it holds numbers or texts; `null` for what may be either. */
	columns: ReadonlyMap<string, 'number' | 'string' | null>;
	/** Worked out by the database itself. */
	generated: ReadonlySet<string>;
	references: readonly Reference[];
}

const KINDS: Readonly<Record<string, 'number' | 'string'>> = {
	integer: 'number',
	real: 'number',
	text: 'string'
};
/** A number in what was screened before checks had a fingerprint. */
const EITHER = 'screenings.version';
/** Columns that hold a moment. */
const MOMENT = /(^|_)(at|since)$/;

async function tablesOf(db: Db, names: readonly string[]): Promise<Table[]> {
	const keys = await references(db);
	const out: Table[] = [];
	for (const name of names) {
		const { rows } = await sql<{
			name: string;
			type: string;
			hidden: number;
		}>`select name, type, hidden from pragma_table_xinfo(${name})`.execute(db);
		out.push({
			name,
			columns: new Map(
				rows.filter((r) => r.hidden === 0).map((r) => [r.name, KINDS[r.type.toLowerCase()] ?? null])
			),
			generated: new Set(rows.filter((r) => r.hidden !== 0).map((r) => r.name)),
			references: keys.filter((r) => r.table === name)
		});
	}
	return out;
}

async function rowsIn(
	trx: Trx,
	{ record, files, lost }: OpenedArchive
): Promise<{ jobId: number; logs: number[] }> {
	const order = (await belongings(trx)).map((b) => b.table).filter((t) => !LEFT.has(t));
	refuseUnknown(record, order);
	refuseForeignFiles(record, new Set([...files.map((f) => f.sha256), ...lost]));
	await refuseTwice(trx, record);
	const ids: Ids = new Map();
	// Those that are asked for first: rows name each other across tables.
	for (const table of LOSES_ROWS) {
		const rows = record.tables[table] ?? [];
		if (LEFT.has(table) || rows.length === 0) continue;
		const first = await nextId(trx, table as LosesRows, rows.length);
		ids.set(table, new Map(inOrder(rows).map((r, n) => [Number(r['id']), first + n])));
	}
	const known = await knownCustomer(trx, record, ids);
	await layoutIn(trx, record, ids);
	for (const table of await tablesOf(trx, order)) {
		if (table.name === 'customers' && known) continue;
		for (const row of inOrder(record.tables[table.name] ?? [])) await rowIn(trx, table, row, ids);
	}
	await timelineIn(trx, record, ids);
	const jobId = ids.get('jobs')!.values().next().value!;
	await readWhole(trx, jobId).catch((e: Error) => {
		throw isFull(e) || isLocked(e)
			? e
			: new InputError(`something in the archive can’t be read: ${e.message}`);
	});
	const logs = await trx
		.selectFrom('logs')
		.select('id')
		.where('job_id', '=', jobId)
		.where('state', '=', 'received')
		.execute();
	return { jobId, logs: logs.map((l) => l.id) };
}

const inOrder = (rows: readonly ArchivedRow[]) =>
	[...rows].sort((a, b) => Number(a['id'] ?? 0) - Number(b['id'] ?? 0));

function refuseUnknown({ tables }: ArchiveRecord, order: readonly string[]): void {
	for (const name of Object.keys(tables))
		if (!order.includes(name) && !LEFT.has(name))
			throw new InputError(
				`the archive has “${name}”, which this Tanto doesn't know: it was made by a newer one`
			);
	for (const name of ['customers', 'vehicles', 'jobs'])
		if (tables[name]?.length !== 1) throw new InputError(`the archive has to have one row of ${name}`);
	if (!tables['revisions']?.length) throw new InputError('the archive has no calibration');
	if (tables['customers']![0]!['practice'])
		throw new InputError(
			'this is a job of practice: it belongs to nobody’s work, start it anew under Practice'
		);
}

function refuseForeignFiles({ tables }: ArchiveRecord, there: ReadonlySet<string>): void {
	for (const table of STORED_IN)
		for (const row of tables[table] ?? [])
			if (!there.has(String(row['sha256']))) throw new InputError(`a file of ${table} isn't in the archive`);
}

/** The same job once: a second copy of it would be worked on beside the first. */
async function refuseTwice(trx: Trx, { tables }: ArchiveRecord): Promise<void> {
	const [job, customer] = [tables['jobs']![0]!, tables['customers']![0]!];
	const same = await trx
		.selectFrom('jobs')
		.innerJoin('customers', 'customers.id', 'jobs.customer_id')
		.select('jobs.id')
		.where('jobs.title', '=', String(job['title']))
		.where('jobs.created_at', '=', String(job['created_at']))
		.where('customers.name', '=', String(customer['name']))
		.executeTakeFirst();
	if (same) throw new InputError(`this job is here already, as number ${same.id}`);
}

/** A customer by the same name and address is the same one. */
async function knownCustomer(trx: Trx, { tables }: ArchiveRecord, ids: Ids): Promise<boolean> {
	const row = tables['customers']![0]!;
	const email = row['email'] === null || row['email'] === undefined ? null : String(row['email']);
	const known = await trx
		.selectFrom('customers')
		.select('id')
		.where('name', '=', String(row['name']))
		.where('email', email === null ? 'is' : '=', email)
		.where('practice', '=', 0)
		.executeTakeFirst();
	if (known) ids.set('customers', new Map([[Number(row['id']), known.id]]));
	return known !== undefined;
}

/** The layout of its controller's tables: the one that is here already where it is the same. */
async function layoutIn(trx: Trx, { layout }: ArchiveRecord, ids: Ids): Promise<void> {
	if (!layout) return;
	const said = (name: string) => String(layout[name] ?? '');
	const values = {
		name: said('name'),
		hardware: said('hardware'),
		software: said('software'),
		fuel_model: said('fuel_model'),
		document: said('document'),
		updated_at: said('updated_at')
	};
	const same = await trx
		.selectFrom('table_layouts')
		.select('id')
		.where('document', '=', values.document)
		.executeTakeFirst();
	const { id } =
		same ?? (await trx.insertInto('table_layouts').values(values).returning('id').executeTakeFirstOrThrow());
	ids.set('table_layouts', new Map([[Number(layout['id']), id]]));
}

const levels = z.looseObject({
	levels: z.record(z.string(), z.number()).optional(),
	cylinders: z.array(z.record(z.string(), z.number().nullable())).optional()
});

/** What lists read of a screening is made here; of what was written elsewhere only the numbers of its log are taken. */
function briefHere(row: ArchivedRow): string {
	const { levels: own, cylinders } = parseWith(levels, parseJson(String(row['brief'] || '{}')));
	return JSON.stringify({
		...briefOf(parseJson(String(row['report'])) as Report),
		...(own ? { levels: own } : {}),
		...(cylinders ? { cylinders } : {})
	});
}

/** What a row of another Tanto is here. */
function asHere(table: string, row: ArchivedRow, ids: Ids): ArchivedRow {
	if (table === 'jobs') return { ...row, tuner_id: null, tuner_name: null };
	// Mails are no longer on their way: the other one has sent them, or never will.
	if (table === 'mails' && row['state'] === 'waiting')
		return { ...row, state: 'failed', error: 'taken in with an archive' };
	if (table === 'logs')
		return {
			...row,
			state: row['state'] === 'failed' ? 'failed' : 'received',
			progress: 0,
			run: 0,
			packed: 0
		};
	if (table === 'screenings') return { ...row, brief: briefHere(row) };
	if (table === 'revisions') {
		const logs = parseWith(logIds, parseJson(String(row['proposal_logs'])));
		const here = logs.flatMap((id) => ids.get('logs')?.get(id) ?? []);
		return { ...row, proposal_logs: JSON.stringify(here) };
	}
	return row;
}
const logIds = z.array(z.int());

/** @throws InputError naming table and row */
async function rowIn(trx: Trx, table: Table, archived: ArchivedRow, ids: Ids): Promise<void> {
	const where = `${table.name}, row ${archived['id'] ?? '?'}`;
	for (const [column, value] of Object.entries(archived)) {
		const parse = DOCUMENTS[`${table.name}.${column}`];
		if (parse && value !== null) inWords(where, () => parse(parseJson(String(value))));
	}
	const row = inWords(where, () => asHere(table.name, archived, ids));
	if (table.name === 'revisions') checkHash(where, row);
	const entries = Object.entries(row).filter(([column]) => !table.generated.has(column));
	for (const [column, value] of entries) {
		const kind = table.columns.get(column);
		if (kind === undefined)
			throw new InputError(`“${column}” isn't known here: the archive was made by a newer Tanto`, where);
		if (value === null || kind === null || `${table.name}.${column}` === EITHER) continue;
		if (typeof value !== kind)
			throw new InputError(`${column} is a ${typeof value}, a ${kind} was expected`, where);
		if (MOMENT.test(column) && value !== '' && Number.isNaN(Date.parse(String(value))))
			throw new InputError(`${column} is no moment: ${String(value).slice(0, 40)}`, where);
	}
	const mapped = entries.flatMap(([column, value]): [string, string | number | null][] => {
		if (column === 'id') {
			const id = ids.get(table.name)?.get(Number(value));
			return id === undefined ? [] : [[column, id]];
		}
		const to = table.references.find((r) => r.column === column);
		if (!to || value === null) return [[column, value]];
		return [[column, ids.get(to.parent)?.get(Number(value)) ?? null]];
	});
	const columns = sql.join(mapped.map(([column]) => sql.ref(column)));
	const values = sql.join(mapped.map(([, value]) => value));
	// What is remembered of a customer who is known here stands already.
	const insert = REMEMBERED.has(table.name) ? sql`insert or ignore` : sql`insert`;
	const { rows } = await sql<{
		n: number;
	}>`${insert} into ${sql.table(table.name)} (${columns}) values (${values}) returning rowid as n`
		.execute(trx)
		.catch((e: Error) => {
			throw isFull(e) || isLocked(e) ? e : new InputError(`this row can’t be kept: ${e.message}`, where);
		});
	if (archived['id'] === undefined) return;
	const map = ids.get(table.name) ?? new Map<number, number>();
	ids.set(table.name, map.set(Number(archived['id']), rows[0]!.n));
}

function checkHash(where: string, row: ArchivedRow): void {
	if (contentHash(parseCalibration(parseJson(String(row['document'])))) !== row['content_hash'])
		throw new InputError(
			'the calibration isn’t the one that was numbered: its content has another hash',
			where
		);
}

function inWords<T>(where: string, read: () => T): T {
	try {
		return read();
	} catch (e) {
		throw new InputError(
			e instanceof InputError ? e.message : 'it can’t be read as what it says that it is',
			where
		);
	}
}

/** The triggers counted in the order of the tables; it is put back into the order in which things happened. */
async function timelineIn(trx: Trx, { timeline }: ArchiveRecord, ids: Ids): Promise<void> {
	const placed = timeline.flatMap(({ kind, ref }) => {
		const table = (TIMELINE_TABLES as Readonly<Record<string, string>>)[kind];
		const here = table === undefined ? undefined : ids.get(table)?.get(ref);
		return here === undefined ? [] : [{ kind: kind as keyof typeof TIMELINE_TABLES, ref: here }];
	});
	for (const { kind, ref } of placed)
		await sql`insert or replace into timeline (kind, ref) values (${kind}, ${ref})`.execute(trx);
}
