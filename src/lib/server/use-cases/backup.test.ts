/** A copy of the data folder, made beside an open database: it restores to the same bytes, and a damaged one is refused. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ReadableStream } from 'node:stream/web';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { vehicleWith, calibrationWith } from '$core/testing/hand-made.ts';
import { connect, type Db } from '$lib/server/db/open.ts';
import { databaseIn } from '$lib/server/testing/world.ts';
import { arrived, packFile, pathOfFile, receive, textBody } from '$lib/server/storage/files.ts';
import { createJob } from '$lib/server/jobs/jobs.ts';
import { starterLayout } from '$core/calibration/tables/layout.ts';
import { addKitFile } from '$lib/server/revisions/recording-kits.ts';
import { keepLayout } from '$lib/server/revisions/table-layouts.ts';
import { currentRevision } from '$lib/server/revisions/revisions.ts';

let root: string;
let data: string;
let db: Db;
let plain: string;
let packed: string;

async function logWith(jobId: number, text: string): Promise<string> {
	const { sha256, bytes } = await receive(
		data,
		new Blob([text]).stream() as unknown as ReadableStream<Uint8Array>,
		1 << 20
	);
	await db
		.insertInto('logs')
		.values({
			job_id: jobId,
			revision_id: (await currentRevision(db, jobId)).id,
			name: 'l.csv',
			sha256,
			bytes,
			sent_by: 'tuner',
			state: 'screened',
			received_at: ''
		})
		.execute();
	return sha256;
}

beforeEach(async () => {
	root = mkdtempSync(join(tmpdir(), 'tanto-backup-'));
	data = join(root, 'data');
	mkdirSync(data);
	db = await databaseIn(data);
	const calibration = calibrationWith([], { fuelModel: 'maf' });
	const jobId = await createJob(db, {
		customer: 'Customer of the copy',
		email: null,
		title: 't',
		vehicle: vehicleWith(),
		calibration
	});
	plain = await logWith(jobId, 'a log as it came');
	packed = await logWith(jobId, 'a log that is kept compressed '.repeat(500));
	expect(await packFile(data, packed)).toBe(true);
});
afterEach(async () => {
	await db.destroy();
	rmSync(root, { recursive: true });
});

const run = (...words: string[]) => {
	const r = spawnSync(process.execPath, ['scripts/backup.mjs', ...words], {
		encoding: 'utf8',
		env: { ...process.env, TANTO_DATA_DIR: data }
	});
	return { code: r.status, said: r.stdout + r.stderr };
};

describe('a backup', () => {
	it('has the files of every table that names one, not of logs alone', async () => {
		const file = await receive(data, textBody('a channel set'), 1000);
		arrived(file);
		const layout = await keepLayout(db, { ...starterLayout('maf'), name: 'one' });
		await addKitFile(db, layout, 'Ann', file, 'channels.set');
		const copy = join(root, 'copy');
		expect(run('backup', copy).said).toContain('A checked copy');
		expect(existsSync(pathOfFile(copy, file.sha256))).toBe(true);
	});
	it('made while the database is open restores to the same rows and bytes', async () => {
		const copy = join(root, 'copy');
		const back = join(root, 'back');
		expect(run('backup', copy).said).toContain('A checked copy');
		// What comes later belongs to the next one.
		await db.deleteFrom('logs').execute();
		expect(run('restore', copy, back).code).toBe(0);
		const restored = connect(back);
		try {
			const logs = await restored.selectFrom('logs').select('sha256').orderBy('id').execute();
			expect(logs.map((l) => l.sha256)).toEqual([plain, packed]);
			expect((await restored.selectFrom('customers').select('name').execute()).map((c) => c.name)).toEqual([
				'Customer of the copy'
			]);
		} finally {
			await restored.destroy();
		}
		expect(readFileSync(pathOfFile(back, plain), 'utf8')).toBe('a log as it came');
		expect(readFileSync(`${pathOfFile(back, packed)}.gz`)).toEqual(
			readFileSync(`${pathOfFile(data, packed)}.gz`)
		);
	});

	it('that was damaged, or lacks a file, restores nothing and says what is wrong', () => {
		const copy = join(root, 'copy');
		const back = join(root, 'back');
		run('backup', copy);
		writeFileSync(pathOfFile(copy, plain), 'a log as it came!');
		const damaged = run('restore', copy, back);
		expect(damaged.code).toBe(1);
		expect(damaged.said).toContain(`the file ${plain} is damaged`);
		rmSync(`${pathOfFile(copy, packed)}.gz`);
		expect(run('restore', copy, back).said).toContain(`the file ${packed} is missing`);
		expect(existsSync(back)).toBe(false);
	});

	it('never lands on what is there', () => {
		const copy = join(root, 'copy');
		run('backup', copy);
		expect(run('backup', copy).said).toContain('is not empty');
		expect(run('restore', copy).said).toContain('is not empty; move it away first');
	});

	it('keeps the rest where a file is lost, says so, and restores what it has', () => {
		rmSync(pathOfFile(data, plain));
		const [copy, back] = [join(root, 'copy'), join(root, 'back')];
		const r = run('backup', copy);
		expect(r.code).toBe(1);
		expect(r.said).toContain('One file is missing');
		expect(r.said).toContain(plain);
		const restored = run('restore', copy, back);
		expect(restored.code).toBe(0);
		expect(restored.said).toContain(plain);
		expect(existsSync(`${pathOfFile(back, packed)}.gz`)).toBe(true);
		// What was lost later is still a fault of the copy.
		rmSync(`${pathOfFile(copy, packed)}.gz`);
		expect(run('restore', copy, join(root, 'other')).said).toContain(`the file ${packed} is missing`);
	});
});
