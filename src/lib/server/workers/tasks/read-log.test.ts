/** A log is screened with what stands when its screening ends, and screened anew from its columns. */
import { rmSync } from 'node:fs';
import type { ReadableStream } from 'node:stream/web';
import { sql } from 'kysely';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { csvOf } from '$core/logfile/write.ts';
import { parseSwap } from '$core/swaps/document.ts';
import { handMade, pullShapes, vehicleWith } from '$core/testing/hand-made.ts';
import { CHECKS_VERSION } from '$lib/server/db/checks-version.ts';
import { pathOfFile, receive } from '$lib/server/storage/files.ts';
import { jobView } from '$lib/server/jobs/jobs.ts';
import { conditionsFromFields, seatsByTest } from '$lib/server/logs/log-conditions.ts';
import { logLine, screeningOf } from '$lib/server/logs/logs.ts';
import { storeColumns } from '$lib/server/logs/store-columns.ts';
import { openWorld, putJob, putLog, unread, type World } from '$lib/server/testing/world.ts';
import { sayConditions } from '$lib/server/use-cases/read-again.ts';
import { addLog } from '$lib/server/use-cases/receive.ts';
import { settled } from '$lib/server/use-cases/screen.ts';
import { readLog, screenAgain } from './read-log.ts';
import { database } from './task.ts';

let world: World;
let task: { dataDir: string; logId: number };
let sha256: string;
let jobId: number;
beforeEach(async () => {
	world = await openWorld();
	jobId = await putJob(world.db, {
		vehicle: vehicleWith({ aspiration: 'turbo' }, { limits: { leanFixPct: 5 } })
	});
	const text = [...csvOf(handMade(40, 20, { ...pullShapes(), iat: () => 35 }))].join('');
	const body = new Blob([text]).stream() as unknown as ReadableStream<Uint8Array>;
	const file = await receive(world.folder, body as never, 1 << 20);
	sha256 = file.sha256;
	const { id } = await addLog(unread(world), jobId, 'a.csv', file, 'tuner');
	await settled();
	task = { dataDir: world.folder, logId: id };
});
afterEach(async () => {
	await database(world.folder).destroy();
	await world.close();
});

const profile = async () => {
	const row = await world.db
		.selectFrom('screenings')
		.select(['profile', 'version'])
		.where('log_id', '=', task.logId)
		.orderBy('id', 'desc')
		.executeTakeFirstOrThrow();
	return { leanFixPct: (JSON.parse(row.profile) as { leanFixPct: number }).leanFixPct, version: row.version };
};
const limit = async (leanFixPct: number) => {
	const job = (await jobView(world.db, jobId))!;
	const document = JSON.stringify({ ...job.vehicle, limits: { leanFixPct } });
	await world.db.updateTable('vehicles').set({ document }).where('id', '=', job.vehicleId).execute();
};

it('limits that are saved while it is read reach it: the verdict is that of the new ones', async () => {
	// The moment when its columns are stored: it was read with the old ones by then.
	await sql
		.raw(
			`create trigger meanwhile after insert on log_channels begin
				update vehicles set document = json_set(document, '$.limits.leanFixPct', 4); end`
		)
		.execute(world.db);
	expect(await readLog(task)).toEqual({ ok: true });
	expect(await profile()).toEqual({ leanFixPct: 4, version: CHECKS_VERSION });
	// It was stored once, whatever was thrown away before.
	expect(await world.db.selectFrom('screenings').select('id').execute()).toHaveLength(1);
	const runs = await world.db.selectFrom('log_channels').select('run').distinct().execute();
	expect(runs).toHaveLength(1);
});

it('is screened anew without its file, from the stored columns, and says the same', async () => {
	expect(await readLog(task)).toEqual({ ok: true });
	const before = (await screeningOf(world.db, task.logId))!.report;
	rmSync(pathOfFile(world.folder, sha256));
	expect(await screenAgain(task)).toEqual({ ok: true });
	const after = (await screeningOf(world.db, task.logId))!.report;
	expect(after).toEqual(before);
	await limit(3);
	expect(await screenAgain(task)).toEqual({ ok: true });
	expect((await profile()).leanFixPct).toBe(3);
});

it('what was said of the day goes into its screening, and is refused where it can be none', async () => {
	const conditionsCheck = async () =>
		(await screeningOf(world.db, task.logId))!.report.checks.find((c) => c.code === 'log.conditions')!
			.outcome;
	expect(await readLog(task)).toEqual({ ok: true });
	expect(await conditionsCheck()).toBe('not-checked');
	const { vehicle } = (await jobView(world.db, jobId))!;
	const said = conditionsFromFields({ ambientC: '21,5', pressureHpa: ' ', 'site.lambda.b1': '' }, vehicle);
	expect(said).toEqual({ schema: 'tanto.conditions/1', ambientC: 21.5 });
	await sayConditions(unread(world), { id: task.logId, conditions: null }, said);
	await settled();
	expect(await readLog(task)).toEqual({ ok: true });
	expect(await conditionsCheck()).toBe('pass');
	expect((await logLine(world.db, task.logId))!.conditions).toEqual(said);
	expect(conditionsFromFields({ ambientC: '' }, vehicle)).toBeNull();
	expect(() => conditionsFromFields({ ambientC: 'warm' }, vehicle)).toThrow('is no number');
	expect(() => conditionsFromFields({ 'site.lambda.b1': 'bank2' }, vehicle)).toThrow('one bank');
});

it('a test with a moved sensor says where it sat, in the log after and in the one with everything back', async () => {
	const put = async (channels: string[]) => {
		const id = await putLog(world.db, jobId);
		const shapes = Object.fromEntries(channels.map((c) => [c, () => 1]));
		const run = await storeColumns(world.db, id, handMade(5, 10, { rpm: () => 2000, ...shapes }));
		await world.db.updateTable('logs').set({ run }).where('id', '=', id).execute();
		return id;
	};
	const swap = parseSwap({ schema: 'tanto.swap/1', kind: 'lambda-moved', from: 'bank1' });
	const [before, after] = [await put(['lambda.b1', 'lambda.ref']), await put(['lambda.b1', 'lambda.ref'])];
	expect(await seatsByTest(world.db, swap, 'after', [before, after])).toEqual({ 'lambda.ref': 'bank2' });
	expect(await seatsByTest(world.db, swap, 'back', [before, after])).toEqual({ 'lambda.ref': 'bank1' });
	const [own, moved] = [await put(['lambda.b1']), await put(['lambda.b1'])];
	expect(await seatsByTest(world.db, swap, 'after', [own, moved])).toEqual({ 'lambda.b1': 'bank2' });
	// Two sensors of the controller's own: the logs don't tell which of them was moved.
	const both = await put(['lambda.b1', 'lambda.b2']);
	expect(await seatsByTest(world.db, swap, 'after', [own, both])).toBeNull();
});
