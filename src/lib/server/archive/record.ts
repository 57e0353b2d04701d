/** All that is written down of a customer or of a job, as rows, and the files that belong to it. */
import { sql } from 'kysely';
import type { Db } from '$lib/server/db/open.ts';
import { TIMELINE_TABLES } from '$lib/server/jobs/timeline-event.ts';
import { safeName } from '$lib/server/storage/files.ts';
import { belongings, within, type Scope } from './belongings.ts';

/** Worked out from the rest whenever it is wanted, or the pieces of a log's columns: the log itself is in the archive as it came. */
export const DERIVED: ReadonlySet<string> = new Set(['log_blocks', 'log_fields', 'replays', 'findings']);
/** What opens a door is in no archive. */
const SECRET: Readonly<Record<string, readonly string[]>> = { links: ['token_hash', 'sealed'] };

export interface StoredName {
	path: string;
	sha256: string;
	bytes: number;
}

type Row = Record<string, unknown>;

async function rowsOf(db: Db, scope: Scope): Promise<Record<string, Row[]>> {
	const all = await belongings(db);
	const out: Record<string, Row[]> = {};
	for (const { table } of all) {
		if (DERIVED.has(table)) continue;
		const { rows } =
			await sql<Row>`select * from ${sql.table(table)} where ${within(all, table, scope)}`.execute(db);
		const secret = SECRET[table] ?? [];
		out[table] = rows.map((row) =>
			Object.fromEntries(Object.entries(row).filter(([name]) => !secret.includes(name)))
		);
	}
	return out;
}

export interface Archived {
	record: object;
	/** Every file that goes with it, under its name in the archive. */
	files: StoredName[];
}

function filesOf(rows: Record<string, Row[]>): StoredName[] {
	const jobOf = new Map((rows['revisions'] ?? []).map((r) => [r['id'], r['job_id']]));
	const jobOfLog = new Map((rows['logs'] ?? []).map((r) => [r['id'], r['job_id']]));
	const named = (kind: string, list: Row[] = [], name?: string): StoredName[] =>
		list.map((r) => ({
			path: `job-${String(r['job_id'] ?? jobOf.get(r['revision_id']) ?? jobOfLog.get(r['log_id']))}/${kind}/${String(r['id'])}-${safeName(name ?? String(r['name']))}`,
			sha256: String(r['sha256']),
			bytes: Number(r['bytes'])
		}));
	return [
		...named('logs', rows['logs']),
		...named('photos', rows['photos'], 'photo.jpg'),
		...named('files', rows['attachments']),
		...named('second-recorders', rows['second_recorders'])
	];
}

/** What is counted on the timeline of the rows that are there, in its order. */
async function timelineRows(db: Db, rows: Record<string, Row[]>): Promise<{ kind: string; ref: number }[]> {
	const all = await db.selectFrom('timeline').select(['kind', 'ref']).orderBy('n').execute();
	const there = new Map(
		Object.entries(TIMELINE_TABLES).map(([kind, table]) => [
			kind,
			new Set((rows[table] ?? []).map((r) => Number(r['id'])))
		])
	);
	return all.filter(({ kind, ref }) => there.get(kind)?.has(ref));
}

/** @returns `record.json` of the archive, and every file that goes with it under its name in there */
export async function recordOf(db: Db, scope: Scope): Promise<Archived> {
	const rows = await rowsOf(db, scope);
	const files = filesOf(rows);
	if (scope.of === 'customer') {
		const { customers, ...rest } = rows;
		return { record: { schema: 'tanto.customer-record/1', customer: customers?.[0], ...rest }, files };
	}
	const layoutId = rows['jobs']?.[0]?.['layout_id'];
	const layout = layoutId
		? await db.selectFrom('table_layouts').selectAll().where('id', '=', Number(layoutId)).executeTakeFirst()
		: undefined;
	return {
		record: {
			schema: 'tanto.job-archive/1',
			tables: rows,
			layout: layout ?? null,
			timeline: await timelineRows(db, rows),
			files: files.map(({ path, sha256 }) => ({ path, sha256 }))
		},
		files
	};
}
