/** How the server is: for its owner's page, and as a file without anything of customers for whoever is asked for help. */
import { readdir, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { sql } from 'kysely';
import { z } from 'zod';
import type { App } from '$lib/server/context.ts';
import { CHECKS_VERSION } from '$lib/server/db/checks-version.ts';
import { DATABASE_FILE } from '$lib/server/db/open.ts';
import { freeBytes } from '$lib/server/storage/disk-space.ts';

const backupSchema = z.object({ at: z.string(), to: z.string(), missing: z.number() });

export interface Condition {
	version: string;
	node: string;
	checks: string;
	migration: string;
	startedAt: string;
	/** Bytes free on the disk, of the database, and of files as they were received. */
	disk: { free: number; database: number; files: number; fileCount: number };
	/** The last checked copy that was made of this folder; `null` where none was. */
	backup: { at: string; missing: number } | null;
	mails: { waiting: number; failed: number; off: boolean };
	logs: Record<string, number>;
	/** Logs whose screening is of older checks, in jobs that are open. */
	outdated: number;
	rows: Record<string, number>;
}

const startedAt = new Date().toISOString();

/** Sizes of a folder's files, links not followed. */
async function sizeOf(folder: string): Promise<{ bytes: number; count: number }> {
	let [bytes, count] = [0, 0];
	for (const entry of await readdir(folder, { withFileTypes: true }).catch(() => [])) {
		const path = join(folder, entry.name);
		if (entry.isDirectory()) {
			const inner = await sizeOf(path);
			bytes += inner.bytes;
			count += inner.count;
		} else if (entry.isFile()) {
			bytes += (await stat(path).catch(() => null))?.size ?? 0;
			count++;
		}
	}
	return { bytes, count };
}

async function lastBackup(dataDir: string): Promise<Condition['backup']> {
	try {
		const { at, missing } = backupSchema.parse(
			JSON.parse(await readFile(join(dataDir, 'last-backup.json'), 'utf8'))
		);
		return { at, missing };
	} catch {
		return null;
	}
}

async function counted(
	db: App['db'],
	query: ReturnType<typeof sql<{ name: string; n: number }>>
): Promise<Record<string, number>> {
	const { rows } = await query.execute(db);
	return Object.fromEntries(rows.map((r) => [r.name, Number(r.n)]));
}

export async function conditionOf({
	db,
	dataDir,
	mailer
}: Pick<App, 'db' | 'dataDir' | 'mailer'>): Promise<Condition> {
	const version = z
		.object({ version: z.string() })
		.parse(JSON.parse(await readFile(join(process.cwd(), 'package.json'), 'utf8'))).version;
	const tables = await sql<{ name: string }>`select name from sqlite_master where type = 'table'`.execute(db);
	const rows: Record<string, number> = {};
	for (const { name } of tables.rows) {
		const { rows: n } = await sql<{ n: number }>`select count(*) as n from ${sql.table(name)}`.execute(db);
		rows[name] = Number(n[0]!.n);
	}
	const files = await sizeOf(join(dataDir, 'files'));
	const mails = await counted(db, sql`select state as name, count(*) as n from mails group by state`);
	const migration = await sql<{
		name: string;
	}>`select name from kysely_migration order by name desc limit 1`.execute(db);
	const outdated = await sql<{ n: number }>`
		select count(*) as n from logs join jobs on jobs.id = logs.job_id
		where logs.state = 'screened' and jobs.done_at is null and not exists
			(select 1 from screenings s where s.log_id = logs.id and s.version = ${CHECKS_VERSION})`.execute(db);
	return {
		version,
		node: process.versions.node,
		checks: String(CHECKS_VERSION),
		migration: migration.rows[0]?.name ?? '',
		startedAt,
		disk: {
			free: await freeBytes(dataDir),
			database: (await stat(join(dataDir, DATABASE_FILE))).size,
			files: files.bytes,
			fileCount: files.count
		},
		backup: await lastBackup(dataDir),
		mails: { waiting: mails['waiting'] ?? 0, failed: mails['failed'] ?? 0, off: mailer.off !== null },
		logs: await counted(db, sql`select state as name, count(*) as n from logs group by state`),
		outdated: Number(outdated.rows[0]!.n),
		rows
	};
}

/** Names of what is set in the environment, never what it is set to. */
const settings = () =>
	Object.keys(process.env)
		.filter((n) => /^(TANTO_|ORIGIN$|PORT$|HOST$|ADDRESS_HEADER$|XFF_DEPTH$)/.test(n))
		.sort();

/** The condition as a file to send along when asking for help: counts, sizes and versions; nothing that a customer or tuner wrote. */
export async function diagnosis(app: Pick<App, 'db' | 'dataDir' | 'mailer'>): Promise<object> {
	const refused = await counted(
		app.db,
		sql`select case when message like 'Something went wrong%' then 'fault of the server' when message like '%too long%' then 'took too long' else 'not readable' end as name, count(*) as n from logs where state = 'failed' group by 1`
	);
	return {
		schema: 'tanto.diagnosis/1',
		at: new Date().toISOString(),
		...(await conditionOf(app)),
		refusedLogs: refused,
		set: settings(),
		platform: `${process.platform} ${process.arch}`,
		memory: process.memoryUsage()
	};
}
