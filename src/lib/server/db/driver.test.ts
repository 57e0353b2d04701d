/** Another connection's lock is waited for without the thread standing still. */
import Sqlite from 'better-sqlite3';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { jobView } from '../jobs.ts';
import { openWorld, putJob } from '../testing/world.ts';

it('a lock held from outside is waited for without the thread standing still', async () => {
	const { db, folder, close } = await openWorld();
	const jobId = await putJob(db, { title: 'job' });
	const other = new Sqlite(join(folder, 'tanto.sqlite'));
	other.exec('begin immediate');
	let ticks = 0;
	let longest = 0;
	let last = performance.now();
	const timer = setInterval(() => {
		ticks++;
		longest = Math.max(longest, performance.now() - last);
		last = performance.now();
	}, 5);
	const write = db.updateTable('jobs').set({ title: 'new' }).where('id', '=', jobId).execute();
	// Reads don't wait behind it.
	expect((await jobView(db, jobId))!.title).toBe('job');
	await new Promise((r) => setTimeout(r, 300));
	other.exec('commit');
	await write;
	clearInterval(timer);
	other.close();
	expect((await jobView(db, jobId))!.title).toBe('new');
	expect(ticks).toBeGreaterThan(20);
	expect(longest).toBeLessThan(150);
	await close();
});
