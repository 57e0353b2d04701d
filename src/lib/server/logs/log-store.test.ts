/** Columns of a log in the database: what goes in comes out, and no zoom loses a spike. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { handMade, vehicleWith, calibrationWith } from '$core/testing/hand-made.ts';
import type { Db } from '$lib/server/db/open.ts';
import { databaseIn } from '$lib/server/testing/world.ts';
import { createJob } from '$lib/server/jobs/jobs.ts';
import { loadLog, traceWindow } from './log-store.ts';
import { dropRuns, storeColumns } from './store-columns.ts';
import { currentRevision } from '$lib/server/revisions/revisions.ts';

let folder: string;
let db: Db;
let logId: number;
const SPIKE_AT = 77_777;
/** 100 000 samples: more than one block. */
const log = handMade(5000, 20, {
	rpm: (t) => 2000 + 500 * Math.sin(t),
	map: (t) => (Math.round(t * 20) === SPIKE_AT ? 333 : 50)
});

beforeAll(async () => {
	folder = mkdtempSync(join(tmpdir(), 'tanto-store-'));
	db = await databaseIn(folder);
	const calibration = calibrationWith([], { fuelModel: 'maf' });
	const jobId = await createJob(db, {
		customer: 'c',
		email: null,
		title: 't',
		vehicle: vehicleWith(),
		calibration
	});
	const { insertId } = await db
		.insertInto('logs')
		.values({
			job_id: jobId,
			revision_id: (await currentRevision(db, jobId)).id,
			name: 'l',
			sha256: 'x',
			bytes: 1,
			sent_by: 'tuner',
			state: 'screened',
			rows: log.rows,
			duration_s: log.durationS,
			received_at: 'now'
		})
		.executeTakeFirstOrThrow();
	logId = Number(insertId);
	await adopt(log);
});
async function adopt(stored: typeof log) {
	const run = await storeColumns(db, logId, stored);
	await db.updateTable('logs').set({ run }).where('id', '=', logId).execute();
}
afterAll(async () => {
	await db.destroy();
	rmSync(folder, { recursive: true });
});

describe('stored logs', () => {
	it('come back sample for sample', async () => {
		const back = await loadLog(db, logId);
		expect(back.channels.map((c) => c.id)).toEqual(['rpm', 'map']);
		expect(back.channels[0]!.values).toEqual(log.channels[0]!.values);
		expect(back.channels[1]!.timeS).toEqual(log.channels[1]!.timeS);
		expect(back.rows).toBe(log.rows);
	});
	it('stored again replace themselves', async () => {
		await adopt(log);
		expect((await loadLog(db, logId)).channels).toHaveLength(2);
		await dropRuns(db);
		const { count } = await db
			.selectFrom('log_channels')
			.select(({ fn }) => fn.countAll<number>().as('count'))
			.executeTakeFirstOrThrow();
		expect(count).toBe(3);
	});
	it.each([
		[0, 5000],
		[3000, 4500],
		[3880, 3895],
		[3888.8, 3888.9]
	])('a spike of one sample shows in every window from %f to %f', async (from, to) => {
		const w = (await traceWindow(db, logId, 'map', from, to, 600))!;
		const highest = Math.max(...(w.max ?? w.min).map((v) => v ?? 0));
		expect(highest).toBe(333);
		expect(w.timeS.length).toBeLessThanOrEqual(1201);
	});
	it('a channel that is not there is null', async () => {
		expect(await traceWindow(db, logId, 'iat', 0, 10, 100)).toBeNull();
	});
});
