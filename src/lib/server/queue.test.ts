/** The queue: what comes first, in pages, with its counts over all of them. */
import { afterEach, beforeEach, expect, it } from 'vitest';
import { setWaiting } from './jobs.ts';
import { neighbour, queue, ROWS_A_PAGE } from './queue.ts';
import { openWorld, putJob, putLog, putScreening, type World } from './testing/world.ts';

let world: World;
beforeEach(async () => void (world = await openWorld()));
afterEach(() => world.close());

async function jobWith(title: string, severity: 'stop' | 'fix' | 'watch' | null): Promise<number> {
	const id = await putJob(world.db, { title });
	const log = await putLog(world.db, id);
	await putScreening(world.db, log, severity ? [{ severity, title: `a ${severity}` }] : []);
	await setWaiting(world.db, id, 'tuner');
	return id;
}

it('stops come first, then fixes and watches; what waits for its customer comes last', async () => {
	await putJob(world.db, { title: 'theirs' });
	await jobWith('calm', null);
	await jobWith('watched', 'watch');
	await jobWith('broken', 'stop');
	await jobWith('lean', 'fix');
	const { rows, mine, stops, theirs, pages } = await queue(world.db);
	expect(rows.map((r) => r.title)).toEqual(['broken', 'lean', 'watched', 'calm', 'theirs']);
	expect({ mine, stops, theirs, pages }).toEqual({ mine: 4, stops: 1, theirs: 1, pages: 1 });
	expect(rows[0]).toMatchObject({ verdict: 'stop', finding: 'a stop', logState: 'screened', since: null });
});

it('the newest screening of the newest log is what counts', async () => {
	const id = await jobWith('mended', 'stop');
	const log = await putLog(world.db, id);
	await putScreening(world.db, log, [{ severity: 'stop', title: 'first reading' }]);
	await putScreening(world.db, log, [{ severity: 'watch', title: 'second reading' }]);
	await jobWith('lean', 'fix');
	const { rows, stops } = await queue(world.db);
	expect(rows.map((r) => [r.title, r.verdict])).toEqual([
		['lean', 'fix'],
		['mended', 'watch']
	]);
	expect(stops).toBe(0);
	expect(rows[1]!.since).toEqual([
		expect.objectContaining({ title: 'second reading', before: 'stop', now: 'watch' })
	]);
});

it('comes in pages: each job on exactly one of them, in one order over all, counted over all', async () => {
	const count = 2 * ROWS_A_PAGE + 7;
	for (let i = 0; i < count; i++) await jobWith(`job ${i}`, i % 10 === 0 ? 'stop' : 'watch');
	const pages = [await queue(world.db, 1), await queue(world.db, 2), await queue(world.db, 3)];
	expect(pages.map((p) => p.rows.length)).toEqual([ROWS_A_PAGE, ROWS_A_PAGE, 7]);
	const ids = pages.flatMap((p) => p.rows.map((r) => r.id));
	expect(new Set(ids).size).toBe(count);
	const verdicts = pages.flatMap((p) => p.rows.map((r) => r.verdict));
	expect(verdicts.lastIndexOf('stop')).toBe(10);
	for (const p of pages) expect(p).toMatchObject({ pages: 3, mine: count, stops: 11, theirs: 0 });
	// Keys lead over the edge of a page.
	expect((await neighbour(world.db, ids[ROWS_A_PAGE - 1]!, 1))!.job).toBe(ids[ROWS_A_PAGE]);
	expect(await neighbour(world.db, ids.at(-1)!, 1)).toBeNull();
	// A page that isn't there is the nearest one.
	expect((await queue(world.db, 99)).page).toBe(3);
	expect((await queue(world.db, -4)).page).toBe(1);
	expect((await queue(world.db, Number('x'))).page).toBe(1);
});

it('an empty queue has one empty page', async () => {
	expect(await queue(world.db)).toEqual({ rows: [], page: 1, pages: 1, mine: 0, stops: 0, theirs: 0 });
});

it('reads no reports', async () => {
	await jobWith('broken', 'stop');
	await world.db.updateTable('screenings').set({ report: 'not even JSON' }).execute();
	expect((await queue(world.db)).rows[0]).toMatchObject({ verdict: 'stop', finding: 'a stop' });
});
