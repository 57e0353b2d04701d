/** Another connection's lock is waited for without the thread standing still. */
import { sql } from 'kysely';
import Sqlite from 'better-sqlite3';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { jobView } from '$lib/server/jobs/jobs.ts';
import { openWorld, putJob } from '$lib/server/testing/world.ts';

it('a lock held from outside is waited for without the thread standing still', async () => {
	const { db, folder, close } = await openWorld();
	const jobId = await putJob(db, { title: 'job' });
	const other = new Sqlite(join(folder, 'tanto.sqlite'));
	other.exec('begin immediate');
	let settled = false;
	const write = db
		.updateTable('jobs')
		.set({ title: 'new' })
		.where('id', '=', jobId)
		.execute()
		.finally(() => (settled = true));
	// Reads don't wait behind it.
	expect((await jobView(db, jobId))!.title).toBe('job');
	// Other things have their turn for as long as the lock is held: a wait inside SQLite would let none of these fire before it gave up.
	for (let turn = 0; turn < 30; turn++) await new Promise((r) => setTimeout(r, 5));
	expect(settled).toBe(false);
	other.exec('commit');
	await write;
	other.close();
	expect((await jobView(db, jobId))!.title).toBe('new');
	await close();
});

it('SQLite itself waits for no lock, on neither connection', async () => {
	const { db, close } = await openWorld();
	const asked = await sql<{ timeout: number }>`pragma busy_timeout`.execute(db);
	expect(asked.rows).toEqual([{ timeout: 0 }]);
	await close();
});
