/** A reading's columns become the log's only when all of them are there. */
import { expect, it } from 'vitest';
import { handMade, pullShapes } from '$core/testing/hand-made.ts';
import { loadLog } from './log-store.ts';
import { dropRuns, storeColumns } from './store-columns.ts';
import { openWorld, putJob, putLog } from '$lib/server/testing/world.ts';

it('columns of a log are the log’s only when all of them are there', async () => {
	const { db, close } = await openWorld();
	const log = handMade(30, 20, pullShapes());
	const id = await putLog(db, await putJob(db));
	const first = await storeColumns(db, id, log);
	expect((await loadLog(db, id)).channels).toEqual([]);
	await db.updateTable('logs').set({ run: first }).where('id', '=', id).execute();
	expect((await loadLog(db, id)).channels.length).toBe(log.channels.length);
	// Read again and stopped half way: the log is what it was, and the half goes at the next start.
	await storeColumns(db, id, handMade(10, 20, { rpm: () => 1 }));
	expect((await loadLog(db, id)).channels.length).toBe(log.channels.length);
	await dropRuns(db);
	const rows = await db.selectFrom('log_channels').select('run').distinct().execute();
	expect(rows.map((r) => r.run)).toEqual([first]);
	await close();
});
