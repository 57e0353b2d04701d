/** A second recorder joins a log, votes, and is taken off again; what is of another drive leaves nothing behind. */
import { existsSync } from 'node:fs';
import type { ReadableStream } from 'node:stream/web';
import pino from 'pino';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { csvOf } from '$core/logfile/write.ts';
import { handMade, vehicleWith, type Shape } from '$core/testing/hand-made.ts';
import { arrived, pathOfFile, receive } from '$lib/server/storage/files.ts';
import { createJob } from '$lib/server/jobs/jobs.ts';
import { logLine, screeningOf } from '$lib/server/logs/logs.ts';
import { joinRecorder, recordersOf, removeRecorder } from './second-recorders.ts';
import { poolOf } from '$lib/server/testing/pool.ts';
import { openWorld, SMALL_CALIBRATION, type World } from '$lib/server/testing/world.ts';
import { readAgain } from './read-again.ts';
import { addLog } from './receive.ts';
import { join as joinTask, readLog } from '$lib/server/workers/tasks/index.ts';
import { settled, type Reader } from './screen.ts';

let world: World;
let app: Reader;
beforeEach(async () => {
	world = await openWorld();
	// The tasks themselves, without a thread for them.
	const pool = poolOf({ readLog, join: joinTask });
	app = { db: world.db, dataDir: world.folder, pool, logger: pino({ level: 'silent' }) };
});
afterEach(() => world.close());

/** Never the same twice: three waves of lengths that have nothing in common. */
const rpmOf =
	([a, b, c]: [number, number, number]): Shape =>
	(t) =>
		3300 + 800 * Math.sin(t / a) + 700 * Math.sin(t / b) + 400 * Math.sin(t / c);
const DRIVE: [number, number, number] = [3.1, 7.7, 1.3];
const text = (seconds: number, shapes: Record<string, Shape>) =>
	[...csvOf(handMade(seconds, 10, shapes))].join('');
async function stored(body: string) {
	const file = await receive(world.folder, new Blob([body]).stream() as ReadableStream<Uint8Array>, 1 << 26);
	arrived(file);
	return file;
}

async function oneLog(): Promise<number> {
	const job = await createJob(app.db, {
		customer: 'Nell Arden',
		email: null,
		title: 'A job',
		vehicle: vehicleWith(),
		calibration: SMALL_CALIBRATION
	});
	const file = await stored(
		text(200, { rpm: rpmOf(DRIVE), map: () => 60, tps: () => 30, 'lambda.b1': () => 0.95 })
	);
	const { id } = await addLog(app, job, 'drive.csv', file, 'customer');
	await settled();
	return id;
}
const line = async (id: number) => (await logLine(world.db, id))!;
const channels = async (id: number) =>
	(await screeningOf(world.db, id))!.report.log.channels.map((c) => c.id);

describe('a second recorder', () => {
	it('brings its channels into the log, once, and takes them along when it is taken off', async () => {
		const id = await oneLog();
		expect(await channels(id)).not.toContain('lambda.ref');
		const late = rpmOf(DRIVE);
		const file = await stored(text(150, { rpm: (t) => late(20 + t), 'lambda.ref': () => 0.97 }));
		for (let twice = 0; twice < 2; twice++) {
			const answer = await joinRecorder(app, await line(id), file, 'wideband.csv', 'Sable Orrin');
			expect(answer.offsetS).toBeCloseTo(20, 1);
			expect(answer.channels).toEqual(['lambda.ref']);
			await settled();
		}
		expect(await channels(id)).toContain('lambda.ref');
		const [kept, ...more] = await recordersOf(world.db, id);
		expect(more).toEqual([]);
		expect(kept).toMatchObject({ name: 'wideband.csv', author: 'Sable Orrin' });
		// The picture shows the same engine speed twice.
		const { log, other } = kept!.alignment.picture;
		const apart = log.map((v, i) => Math.abs((v ?? Number.NaN) - (other[i] ?? Number.NaN)));
		expect(Math.max(...apart.filter(Number.isFinite))).toBeLessThan(60);
		await removeRecorder(app, id, kept!.id);
		await settled();
		expect(await channels(id)).not.toContain('lambda.ref');
		expect(existsSync(pathOfFile(world.folder, file.sha256))).toBe(false);
	});

	it('of another drive is refused with the reason, and nothing of it stays', async () => {
		const id = await oneLog();
		const file = await stored(text(150, { rpm: rpmOf([2.3, 5.9, 1.7]), 'lambda.ref': () => 0.97 }));
		await expect(joinRecorder(app, await line(id), file, 'other.csv', 'S')).rejects.toThrow(
			'not of one drive'
		);
		expect(await recordersOf(world.db, id)).toEqual([]);
		expect(existsSync(pathOfFile(world.folder, file.sha256))).toBe(false);
		expect(await channels(id)).not.toContain('lambda.ref');
	});

	it('that no longer fits is told, and hides nothing of the log', async () => {
		const id = await oneLog();
		const late = rpmOf(DRIVE);
		const file = await stored(text(150, { rpm: (t) => late(20 + t), 'lambda.ref': () => 0.97 }));
		await joinRecorder(app, await line(id), file, 'wideband.csv', 'Sable Orrin');
		await settled();
		const other = await stored(text(150, { rpm: rpmOf([2.3, 5.9, 1.7]), 'lambda.ref': () => 0.97 }));
		// As if the columns of it were said to be something else since.
		await world.db
			.updateTable('second_recorders')
			.set({ sha256: other.sha256, bytes: other.bytes })
			.execute();
		await readAgain(app, id);
		await settled();
		expect((await line(id)).state).toBe('screened');
		expect(await channels(id)).toContain('lambda.b1');
		expect(await channels(id)).not.toContain('lambda.ref');
		const { report } = (await screeningOf(world.db, id))!;
		expect(JSON.stringify(report.log)).toContain('isn’t in it any more: the two are not of one drive');
	});
});
