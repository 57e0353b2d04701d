/** What becomes of a log in the hands of the workers: screened, failed in words, put back; and screening anew behind everything else. */
import pino from 'pino';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { CHECKS_VERSION } from '$lib/server/db/checks-version.ts';
import { setDone } from '$lib/server/jobs/jobs.ts';
import { renewScreenings, resumeLogs, settled, startLog } from './screen.ts';
import { openWorld, putJob, putLog, putScreening, type World } from '$lib/server/testing/world.ts';
import { Stopped, TookTooLong, type TaskOptions } from '$lib/server/workers/pool.ts';
import type { LogAnswer } from '$lib/server/workers/tasks/read-log.ts';
import { poolOf } from '$lib/server/testing/pool.ts';

const OLD = 'checks of before';
let world: World;
beforeEach(async () => void (world = await openWorld()));
afterEach(() => world.close());

const logger = pino({ level: 'silent' });
/** A server whose workers answer like this. */
function appWith(read: (logId: number) => Promise<LogAnswer>) {
	const taken: number[] = [];
	const answer = async ({ logId }: { logId: number }, options?: TaskOptions) => {
		taken.push(logId);
		await options?.onStart?.();
		return read(logId);
	};
	const pool = poolOf({ readLog: answer, screenAgain: answer });
	return { app: { db: world.db, dataDir: world.folder, pool, logger }, taken };
}
const stateOf = async (id: number) =>
	world.db.selectFrom('logs').select(['state', 'message']).where('id', '=', id).executeTakeFirstOrThrow();

describe('a log that is read', () => {
	it('is being read while a worker has it', async () => {
		const id = await putLog(world.db, await putJob(world.db), { state: 'received' });
		let during = '';
		const { app } = appWith(async (logId) => {
			during = (await stateOf(logId)).state;
			return { ok: false, message: 'no log', seen: null };
		});
		startLog(app, id);
		await settled();
		expect(during).toBe('reading');
		expect(await stateOf(id)).toEqual({ state: 'failed', message: 'no log' });
	});
	it('that takes too long fails in words that say what to do', async () => {
		const id = await putLog(world.db, await putJob(world.db), { state: 'received' });
		startLog(appWith(() => Promise.reject(new TookTooLong())).app, id);
		await settled();
		expect((await stateOf(id)).message).toContain('Cut the recording into parts');
	});
	it('whose worker breaks fails, and the fault is ours', async () => {
		const id = await putLog(world.db, await putJob(world.db), { state: 'received' });
		startLog(appWith(() => Promise.reject(new Error('out of memory'))).app, id);
		await settled();
		expect((await stateOf(id)).message).toContain('Something went wrong in Tanto');
	});
	it('goes back where the server stops, and is taken up at the next start', async () => {
		const id = await putLog(world.db, await putJob(world.db), { state: 'received' });
		startLog(appWith(() => Promise.reject(new Stopped())).app, id);
		await settled();
		expect(await stateOf(id)).toEqual({ state: 'received', message: null });
		const { app, taken } = appWith(async () => ({ ok: false, message: 'read now', seen: null }));
		await resumeLogs(app);
		await settled();
		expect(taken).toEqual([id]);
	});
	it('waits where the disk is full or the database locked for long, and fails for nobody', async () => {
		const id = await putLog(world.db, await putJob(world.db), { state: 'received' });
		startLog(appWith(async () => ({ ok: false, waits: true })).app, id);
		await settled();
		expect(await stateOf(id)).toEqual({ state: 'received', message: null });
		const locked = Object.assign(new Error('database is locked'), { code: 'SQLITE_BUSY' });
		startLog(appWith(() => Promise.reject(locked)).app, id);
		await settled();
		expect((await stateOf(id)).state).not.toBe('failed');
	});
});

describe('screening anew', () => {
	it('takes what other checks screened, the newest first, and nothing of jobs that are done', async () => {
		const open = await putJob(world.db);
		const done = await putJob(world.db, { title: 'done' });
		await setDone(world.db, done, 'the tune is done');
		const [old, older, today, closed] = [
			await putLog(world.db, open),
			await putLog(world.db, open),
			await putLog(world.db, open),
			await putLog(world.db, done)
		];
		await putScreening(world.db, old!, [], OLD);
		await putScreening(world.db, older!, [], 'checks of long before');
		await putScreening(world.db, today!, [], OLD);
		await putScreening(world.db, today!, [], CHECKS_VERSION);
		await putScreening(world.db, closed!, [], OLD);
		const { app, taken } = appWith(async (logId) => {
			await putScreening(world.db, logId, [], CHECKS_VERSION);
			return { ok: true };
		});
		renewScreenings(app);
		await settled();
		expect(taken).toEqual([older, old]);
		// A job that is done is screened anew when somebody opens it.
		renewScreenings(app, done);
		await settled();
		expect(taken).toEqual([older, old, closed]);
	});
	it('leaves a log readable while it goes on, and as it is where it fails', async () => {
		const id = await putLog(world.db, await putJob(world.db));
		await putScreening(world.db, id, [{ severity: 'stop', title: 'lean' }], OLD);
		let during = '';
		const { app, taken } = appWith(async (logId) => {
			during = (await stateOf(logId)).state;
			return { ok: false, message: 'not any more', seen: null };
		});
		renewScreenings(app);
		await settled();
		expect(during).toBe('screened');
		expect(await stateOf(id)).toEqual({ state: 'screened', message: null });
		// Not again and again.
		expect(taken).toEqual([id]);
	});
	it('one that breaks keeps its screening, and the others are made all the same', async () => {
		const job = await putJob(world.db);
		const ids = [await putLog(world.db, job), await putLog(world.db, job), await putLog(world.db, job)];
		for (const id of ids) await putScreening(world.db, id, [], OLD);
		const { app, taken } = appWith(async (logId) => {
			if (logId === ids[1]) throw new TookTooLong();
			await putScreening(world.db, logId, [], CHECKS_VERSION);
			return { ok: true };
		});
		renewScreenings(app);
		await settled();
		expect(taken).toEqual([...ids].reverse());
		expect(await stateOf(ids[1]!)).toEqual({ state: 'screened', message: null });
	});
	it('a stop ends it at once', async () => {
		const job = await putJob(world.db);
		for (let i = 0; i < 3; i++) await putScreening(world.db, await putLog(world.db, job), [], OLD);
		const { app, taken } = appWith(() => Promise.reject(new Stopped()));
		renewScreenings(app);
		await settled();
		expect(taken).toHaveLength(1);
	});
});
