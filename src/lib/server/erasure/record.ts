/** All that is written down of a customer, as rows, and the files that belong to them. */
import { sql } from 'kysely';
import type { Db } from '$lib/server/db/open.ts';
import { safeName } from '$lib/server/storage/files.ts';
import { belongings, ofCustomer } from './belongings.ts';

/** Worked out from the rest whenever it is wanted, or the pieces of a log's columns: the log itself is in the archive as it came. */
const DERIVED = new Set(['log_blocks', 'log_fields', 'replays', 'findings']);
/** What opens a door is in no archive. */
const SECRET: Readonly<Record<string, readonly string[]>> = { links: ['token_hash', 'sealed'] };

export interface StoredName {
	path: string;
	sha256: string;
	bytes: number;
}

type Row = Record<string, unknown>;

async function rowsOf(db: Db, customerId: number): Promise<Record<string, Row[]>> {
	const all = await belongings(db);
	const out: Record<string, Row[]> = {};
	for (const { table } of all) {
		if (DERIVED.has(table)) continue;
		const { rows } =
			await sql<Row>`select * from ${sql.table(table)} where ${ofCustomer(all, table, customerId)}`.execute(
				db
			);
		const secret = SECRET[table] ?? [];
		out[table] = rows.map((row) =>
			Object.fromEntries(Object.entries(row).filter(([name]) => !secret.includes(name)))
		);
	}
	return out;
}

/** @returns `record.json` of the archive, and every file that goes with it under its name in there */
export async function recordOf(db: Db, customerId: number): Promise<{ record: object; files: StoredName[] }> {
	const { customers, ...rows } = await rowsOf(db, customerId);
	const jobOf = new Map((rows['revisions'] ?? []).map((r) => [r['id'], r['job_id']]));
	const jobOfLog = new Map((rows['logs'] ?? []).map((r) => [r['id'], r['job_id']]));
	const named = (kind: string, list: Row[] = [], name?: string): StoredName[] =>
		list.map((r) => ({
			path: `job-${String(r['job_id'] ?? jobOf.get(r['revision_id']) ?? jobOfLog.get(r['log_id']))}/${kind}/${String(r['id'])}-${safeName(name ?? String(r['name']))}`,
			sha256: String(r['sha256']),
			bytes: Number(r['bytes'])
		}));
	return {
		record: { schema: 'tanto.customer-record/1', customer: customers?.[0], ...rows },
		files: [
			...named('logs', rows['logs']),
			...named('photos', rows['photos'], 'photo.jpg'),
			...named('files', rows['attachments']),
			...named('second-recorders', rows['second_recorders'])
		]
	};
}
