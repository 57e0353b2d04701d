/** A log is screened with what stands when its screening ends, and screened anew from its columns. */
import { rmSync } from 'node:fs';
import type { ReadableStream } from 'node:stream/web';
import { sql } from 'kysely';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { csvOf } from '../../../core/logfile/write.ts';
import { handMade, pullShapes, vehicleWith } from '../../../core/testing/hand-made.ts';
import { CHECKS_VERSION } from '../checks-version.ts';
import { pathOfFile, receive } from '../files.ts';
import { jobView } from '../jobs.ts';
import { screeningOf } from '../logs.ts';
import { openWorld, putJob, unread, type World } from '../testing/world.ts';
import { addLog } from '../workflow/receive.ts';
import { settled } from '../workflow/screen.ts';
import { processLog, screenAgain } from './process-log.ts';
import { database } from './shared.ts';

let world: World;
let task: { dataDir: string; logId: number };
let sha256: string;
let jobId: number;
beforeEach(async () => {
	world = await openWorld();
	jobId = await putJob(world.db, {
		vehicle: vehicleWith({ aspiration: 'turbo' }, { limits: { leanFixPct: 5 } })
	});
	const text = [...csvOf(handMade(40, 20, pullShapes()))].join('');
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
	expect(await processLog(task)).toEqual({ ok: true });
	expect(await profile()).toEqual({ leanFixPct: 4, version: CHECKS_VERSION });
	// It was stored once, whatever was thrown away before.
	expect(await world.db.selectFrom('screenings').select('id').execute()).toHaveLength(1);
	const runs = await world.db.selectFrom('log_channels').select('run').distinct().execute();
	expect(runs).toHaveLength(1);
});

it('is screened anew without its file, from the stored columns, and says the same', async () => {
	expect(await processLog(task)).toEqual({ ok: true });
	const before = (await screeningOf(world.db, task.logId))!.report;
	rmSync(pathOfFile(world.folder, sha256));
	expect(await screenAgain(task)).toEqual({ ok: true });
	const after = (await screeningOf(world.db, task.logId))!.report;
	expect(after).toEqual(before);
	await limit(3);
	expect(await screenAgain(task)).toEqual({ ok: true });
	expect((await profile()).leanFixPct).toBe(3);
});
