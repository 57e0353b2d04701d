/** Broken, hostile and odd files on the whole path of the server: one clear message each, nothing left behind, nothing crashes. */
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ReadableStream } from 'node:stream/web';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { csvOf } from '$core/logfile/write.ts';
import { vehicleWith, calibrationWith } from '$core/testing/hand-made.ts';
import { NASTY } from '$core/testing/nasty-inputs.ts';
import type { Db } from '$lib/server/db/open.ts';
import { databaseIn } from '$lib/server/testing/world.ts';
import { receive } from '$lib/server/storage/files.ts';
import { createJob } from '$lib/server/jobs/jobs.ts';
import { loadLog } from '$lib/server/logs/log-store.ts';
import { currentRevision } from '$lib/server/revisions/revisions.ts';
import { readLog } from '$lib/server/workers/tasks/read-log.ts';

let folder: string;
let db: Db;
let jobId: number;

beforeAll(async () => {
	folder = mkdtempSync(join(tmpdir(), 'tanto-nasty-'));
	db = await databaseIn(folder);
	const calibration = calibrationWith([{ id: 'limit.rpm', kind: 'scalar', value: 7000 }], {
		fuelModel: 'maf'
	});
	jobId = await createJob(db, {
		customer: 'a',
		email: null,
		title: 't',
		vehicle: vehicleWith(),
		calibration
	});
});
afterAll(async () => {
	await db.destroy();
	rmSync(folder, { recursive: true });
});

async function send(bytes: Uint8Array): Promise<number> {
	const body = new Blob([new Uint8Array(bytes)]).stream() as unknown as ReadableStream<Uint8Array>;
	const file = await receive(folder, body, 1 << 30);
	const { insertId } = await db
		.insertInto('logs')
		.values({
			job_id: jobId,
			revision_id: (await currentRevision(db, jobId)).id,
			name: 'x',
			sha256: file.sha256,
			bytes: file.bytes,
			sent_by: 'customer',
			state: 'received',
			received_at: new Date().toISOString()
		})
		.executeTakeFirstOrThrow();
	return Number(insertId);
}

const count = async (table: 'log_channels' | 'log_blocks' | 'screenings') =>
	(
		await db
			.selectFrom(table)
			.select(({ fn }) => fn.countAll<number>().as('n'))
			.executeTakeFirstOrThrow()
	).n;

describe('nasty inputs', () => {
	it('there are sixty of them, each with a name of its own', () => {
		expect(NASTY.length).toBeGreaterThanOrEqual(60);
		expect(new Set(NASTY.map((n) => n.name)).size).toBe(NASTY.length);
	});

	it.each(NASTY.filter((n) => n.message !== null))('$name: refused', async ({ bytes, message }) => {
		const before = [await count('log_channels'), await count('log_blocks'), await count('screenings')];
		const logId = await send(bytes());
		const answer = await readLog({ dataDir: folder, logId });
		expect(answer.ok).toBe(false);
		const said = answer.ok || answer.waits ? '' : answer.message;
		expect(said).toMatch(message!);
		expect(said.split('\n')).toHaveLength(1);
		expect(said.length).toBeLessThan(300);
		expect([await count('log_channels'), await count('log_blocks'), await count('screenings')]).toEqual(
			before
		);
		expect(readdirSync(join(folder, 'incoming'))).toEqual([]);
	});

	it.each(NASTY.filter((n) => n.message === null))('$name: read without harm', async ({ bytes }) => {
		const logId = await send(bytes());
		expect(await readLog({ dataDir: folder, logId })).toEqual({ ok: true });
		expect(Object.hasOwn(Object.prototype, 'polluted')).toBe(false);
		expect(({} as Record<string, unknown>)['polluted']).toBeUndefined();
		// What goes out again carries numbers and our own names only.
		const lines = [...csvOf(await loadLog(db, logId))].join('').trim().split('\n');
		expect(lines[0]).toMatch(/^time(,[A-Za-z0-9.]+)*$/);
		for (const line of lines.slice(1, 5)) expect(line).toMatch(/^[-+0-9.,eE]*$/);
		expect(readdirSync(folder).sort()).toEqual(expect.arrayContaining(['files', 'incoming', 'tanto.sqlite']));
		expect(readdirSync(join(folder, 'incoming'))).toEqual([]);
	});
});
