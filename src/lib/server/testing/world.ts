/** A data folder with a migrated database and a job in it, for tests: real files, a real database, nothing screened. */
import { poolOf } from './pool.ts';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pino from 'pino';
import { type Calibration } from '$core/calibration/document.ts';
import type { DraftChange } from '$core/revising/edit-schema.ts';
import { briefOf } from '$core/screening/brief.ts';
import type { Report } from '$core/screening/report.ts';
import type { Severity, Verdict } from '$core/screening/types.ts';
import { vehicleWith, calibrationWith } from '$core/testing/hand-made.ts';
import { CHECKS_VERSION } from '$lib/server/db/checks-version.ts';
import { nextId } from '$lib/server/db/ids.ts';
import { connect, DATABASE_FILE, migrate, type Db } from '$lib/server/db/open.ts';
import { createJob, jobView, type NewJob } from '$lib/server/jobs/jobs.ts';
import type { Mailer } from '$lib/server/mail/mailer.ts';
import { examinedOf, releaseCheck, type Examined } from '$lib/server/revisions/release-check.ts';
import {
	createDraft,
	currentRevision,
	revision,
	saveChanges,
	type Revision
} from '$lib/server/revisions/revisions.ts';
import { freeze } from '$lib/server/use-cases/release.ts';
import { settled, type Reader } from '$lib/server/use-cases/screen.ts';
import { withdraw } from '$lib/server/use-cases/withdraw.ts';
import { Stopped } from '$lib/server/workers/pool.ts';

/** A fuel table of two by two and a limit. */
export const SMALL_CALIBRATION: Calibration = calibrationWith(
	[
		{
			id: 'fuel.table',
			title: 'VE',
			kind: 'map',
			x: { channel: 'rpm', points: [1000, 2000] },
			y: { channel: 'map', points: [50, 100] },
			values: [
				[70, 75],
				[80, 85]
			]
		},
		{ id: 'limit.rpm', kind: 'scalar', value: 7000 }
	],
	{ name: 'base' }
);

export interface World {
	folder: string;
	db: Db;
	close(): Promise<void>;
}

/** A database as every new one is, brought up to date once for all tests of a process. */
let migrated: Promise<Buffer> | null = null;

async function migratedDatabase(): Promise<Buffer> {
	const folder = mkdtempSync(join(tmpdir(), 'tanto-template-'));
	const db = connect(folder);
	await migrate(db);
	await db.destroy();
	const bytes = readFileSync(join(folder, DATABASE_FILE));
	rmSync(folder, { recursive: true });
	return bytes;
}

/** A new database in a folder, brought up to date. */
export async function databaseIn(folder: string): Promise<Db> {
	writeFileSync(join(folder, DATABASE_FILE), await (migrated ??= migratedDatabase()));
	return connect(folder);
}

export async function openWorld(): Promise<World> {
	const folder = mkdtempSync(join(tmpdir(), 'tanto-world-'));
	const db = await databaseIn(folder);
	return {
		folder,
		db,
		close: async () => {
			// What a test began it waits for: a reading that outlived its database would fail in another test.
			await settled();
			await db.destroy();
			rmSync(folder, { recursive: true });
		}
	};
}

/** What takes a log in and leaves it unread, as a server that stops at that moment. */
export const unread = ({ db, folder }: World): Reader => ({
	db,
	dataDir: folder,
	logger: pino({ level: 'silent' }),
	pool: poolOf({ readLog: () => Promise.reject(new Stopped()) })
});

export const putJob = (db: Db, job: Partial<NewJob> = {}, now?: Date): Promise<number> =>
	createJob(
		db,
		{
			customer: 'Ada Wren',
			email: null,
			title: 'A job',
			vehicle: vehicleWith(),
			calibration: SMALL_CALIBRATION,
			...job
		},
		now
	);

let logs = 0;

/** A log's row without its file. */
export async function putLog(
	db: Db,
	jobId: number,
	more: {
		state?: 'received' | 'reading' | 'screened' | 'failed';
		name?: string;
		sha256?: string;
		at?: string;
	} = {}
): Promise<number> {
	const id = await nextId(db, 'logs');
	await db
		.insertInto('logs')
		.values({
			id,
			job_id: jobId,
			revision_id: (await currentRevision(db, jobId)).id,
			name: more.name ?? 'l.csv',
			sha256: more.sha256 ?? `sha ${++logs}`,
			bytes: 1,
			sent_by: 'customer',
			state: more.state ?? 'screened',
			received_at: more.at ?? new Date().toISOString()
		})
		.execute();
	return id;
}

/** A screening of a log, as its worker would leave it, with findings of these severities and nothing else. */
export async function putScreening(
	db: Db,
	logId: number,
	findings: readonly { severity: Severity; title: string; code?: string }[],
	version: string = CHECKS_VERSION
): Promise<number> {
	const verdict: Verdict =
		(['stop', 'fix', 'watch'] as const).find((s) => findings.some((f) => f.severity === s)) ?? 'clear';
	const report = {
		schema: 'tanto.screen/1',
		log: {},
		verdict,
		findings: findings.map((f) => ({ code: 'x', summary: 's', channels: [], causes: [], next: [], ...f })),
		checks: [],
		segments: []
	};
	const { insertId } = await db
		.insertInto('screenings')
		.values({
			log_id: logId,
			version,
			profile: '{}',
			report: JSON.stringify(report),
			cells: 'null',
			pulls: '[]',
			unmapped: '[]',
			brief: JSON.stringify(briefOf(report as unknown as Report)),
			created_at: new Date().toISOString()
		})
		.executeTakeFirstOrThrow();
	return Number(insertId);
}

/** A change of a cell of the small fuel table by hand. */
export const cell = (to: number, x: 1000 | 2000 = 1000, y: 50 | 100 = 50): DraftChange => {
	const from = { '1000 50': 70, '2000 50': 75, '1000 100': 80, '2000 100': 85 }[`${x} ${y}`]!;
	return {
		item: 'fuel.table',
		x,
		y,
		from,
		to,
		basis: 'hand',
		samples: 0,
		se: null,
		reason: 'asked for',
		findings: []
	};
};

/** A draft of the job's current revision with these cells changed. */
export async function draftWith(db: Db, jobId: number, changes = [cell(60)], now?: Date): Promise<Revision> {
	const parent = (await revision(db, (await currentRevision(db, jobId)).id))!;
	const id = await createDraft(db, parent, null, [], now);
	await saveChanges(db, (await revision(db, id))!, changes);
	return (await revision(db, id))!;
}

/** Tests here have no samples to replay. */
export const NOT_REPLAYED = { replay: null, problem: '' };

/** Releases a draft over all its holds, each answered. @param examined what the page had shown, else what there is */
export async function releaseAll(
	db: Db,
	draft: Revision,
	{
		examined,
		now,
		inside
	}: {
		examined?: Examined;
		now?: Date;
		inside?: (trx: Db) => Promise<void>;
	} = {}
): Promise<Revision> {
	const check = await releaseCheck(db, draft, NOT_REPLAYED);
	await freeze(
		db,
		draft,
		{
			notes: 'n',
			answers: Object.fromEntries(check.holds.map((h) => [h.id, 'it is right all the same'])),
			author: 'Sable',
			filesConfirmed: true,
			givesTables: false,
			examined: examined ?? (await examinedOf(db, draft))
		},
		NOT_REPLAYED,
		now,
		inside
	);
	return (await revision(db, draft.id))!;
}

/** No mail goes out of a test. */
const NO_MAIL = { wake: () => {} } as unknown as Mailer;

/** Takes a released revision back. */
export async function takeBack(db: Db, rev: Revision, reason: string, now?: Date): Promise<void> {
	const job = { ...(await jobView(db, rev.jobId))!, email: null };
	await withdraw({ db, mailer: NO_MAIL }, job, rev, 'Sable', reason, now);
}
