/** The queue: what comes first, in pages, with its counts over all of them. */
import { afterEach, beforeEach, expect, it } from 'vitest';
import { setArchived, setDone, setWaiting } from './jobs.ts';
import { logLine, logsOf, takeOut } from '$lib/server/logs/logs.ts';
import { fromCustomer } from './messages.ts';
import { neighbour, queue, ROWS_A_PAGE } from './queue.ts';
import { confirmInstalled } from '$lib/server/revisions/revision-events.ts';
import { revision, revisionsOf } from '$lib/server/revisions/revisions.ts';
import {
	draftWith,
	openWorld,
	putJob,
	putLog,
	putScreening,
	releaseAll,
	type World
} from '$lib/server/testing/world.ts';

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
	expect(rows.find((r) => r.id === id)!.before).toEqual(['stop']);
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
	const pages = [
		await queue(world.db, { page: 1 }),
		await queue(world.db, { page: 2 }),
		await queue(world.db, { page: 3 })
	];
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
	expect((await queue(world.db, { page: 99 })).page).toBe(3);
	expect((await queue(world.db, { page: -4 })).page).toBe(1);
	expect((await queue(world.db, { page: Number('x') })).page).toBe(1);
});

it('an empty queue has one empty page', async () => {
	expect(await queue(world.db)).toEqual({
		rows: [],
		page: 1,
		pages: 1,
		mine: 0,
		stops: 0,
		theirs: 0,
		done: 0,
		archived: 0
	});
});

it('reads no reports', async () => {
	await jobWith('broken', 'stop');
	await world.db.updateTable('screenings').set({ report: 'not even JSON' }).execute();
	expect((await queue(world.db)).rows[0]).toMatchObject({ verdict: 'stop', finding: 'a stop' });
});

it('a file that can’t be read hides no stop, and a log that was taken out says nothing', async () => {
	const id = await jobWith('broken', 'stop');
	const bad = await putLog(world.db, id);
	await world.db.updateTable('logs').set({ state: 'failed' }).where('id', '=', bad).execute();
	const { rows, stops } = await queue(world.db);
	expect(rows[0]).toMatchObject({ verdict: 'stop', finding: 'a stop', logState: 'failed' });
	expect(stops).toBe(1);
	// What can't be read has no verdict, and is none of those before.
	expect(rows[0]!.before).toEqual([]);
	await takeOut(world.db, (await logLine(world.db, bad))!, 'Ann', 'sent by mistake');
	expect((await queue(world.db)).rows[0]).toMatchObject({ verdict: 'stop', logState: 'screened' });
	await takeOut(world.db, (await logsOf(world.db, id))[0]!, 'Ann', 'another car');
	expect((await queue(world.db)).rows[0]).toMatchObject({ verdict: null, finding: null, logState: null });
});

it('done jobs and those put away stand apart, are found by any of their words, and come back with the customer', async () => {
	const done = await jobWith('finished car', null);
	await setDone(world.db, done, 'all well');
	await setWaiting(world.db, done, 'customer');
	const away = await jobWith('old car', 'stop');
	await setArchived(world.db, away, true);
	await jobWith('today', 'watch');
	const now = await queue(world.db);
	expect(now.rows.map((r) => r.title)).toEqual(['today']);
	expect(now).toMatchObject({ mine: 1, stops: 0, theirs: 0, done: 1, archived: 1 });
	expect((await queue(world.db, { only: 'done' })).rows.map((r) => r.title)).toEqual(['finished car']);
	expect((await queue(world.db, { search: 'CAR' })).rows.map((r) => r.title)).toEqual([
		'finished car',
		'old car'
	]);
	expect((await queue(world.db, { search: 'car nobody' })).rows).toEqual([]);
	// A log or a word of theirs has to be looked at, wherever the job is.
	await setWaiting(world.db, away, 'tuner');
	expect((await queue(world.db)).rows.map((r) => r.title)).toEqual(['old car', 'today']);
});

it('shows the word of a customer until it is answered, and a release that nobody confirmed', async () => {
	const id = await jobWith('talks', 'watch');
	await fromCustomer(world.db, id, 'Ines', 'it stutters when cold');
	expect((await queue(world.db)).rows[0]).toMatchObject({
		word: 'it stutters when cold',
		unconfirmed: false
	});
	await world.db
		.insertInto('messages')
		.values({ job_id: id, kind: 'to-customer', author: 'Ann', body: 'I look', created_at: '2026-01-01' })
		.execute();
	await releaseAll(world.db, await draftWith(world.db, id));
	const row = () => queue(world.db).then((q) => q.rows[0]!);
	expect(await row()).toMatchObject({ word: null, unconfirmed: true, revision: 1 });
	const released = (await revisionsOf(world.db, id)).at(-1)!;
	await confirmInstalled(world.db, (await revision(world.db, released.id))!, 'Ines');
	expect((await row()).unconfirmed).toBe(false);
});
