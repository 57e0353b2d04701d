/** The order of what happened, on a machine whose clock goes back. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { setWaiting } from './jobs.ts';
import { addNote } from './messages.ts';
import { neighbour, queue } from './queue.ts';
import { isInTheCar } from '$lib/server/revisions/installed-revision.ts';
import { confirmInstalled } from '$lib/server/revisions/revision-events.ts';
import { createDraft, currentRevision, revision } from '$lib/server/revisions/revisions.ts';
import { forgetScreenings } from '$lib/server/logs/screenings.ts';
import {
	cell,
	draftWith,
	openWorld,
	putJob,
	putLog,
	putScreening,
	releaseAll,
	takeBack,
	type World
} from '$lib/server/testing/world.ts';
import type { TimelineEvent } from './timeline-event.ts';
import { timelineOf } from './timeline.ts';

/** A log by its file, anything else by its label. */
const called = (e: TimelineEvent) => (e.kind === 'log' ? e.detail.split(' · ')[0] : e.label);

let world: World;
beforeEach(async () => void (world = await openWorld()));
afterEach(() => world.close());

const NOON = new Date('2031-05-04T12:00:00Z');
const DAY_BEFORE = new Date('2031-05-03T12:00:00Z');

const released = async (jobId: number, now: Date, to = 90) =>
	releaseAll(world.db, await draftWith(world.db, jobId, [cell(to)], now), { now });

describe('a clock that goes back', () => {
	it('leaves the events of a job in the order in which they happened', async () => {
		const id = await putJob(world.db, {}, NOON);
		await putLog(world.db, id, { name: 'first.csv', at: NOON.toISOString() });
		const r1 = await released(id, NOON);
		await putLog(world.db, id, { name: 'second.csv', at: DAY_BEFORE.toISOString() });
		await addNote(world.db, id, 'Sable', 'a note', DAY_BEFORE);
		expect((await timelineOf(world.db, id)).map(called)).toEqual([
			'R0',
			'first.csv',
			`R${r1.number}`,
			'second.csv',
			'Note'
		]);
	});

	it('leaves the longest waiting job first', async () => {
		const a = await putJob(world.db, { title: 'a' });
		const b = await putJob(world.db, { title: 'b' });
		await setWaiting(world.db, a, 'tuner', NOON);
		await setWaiting(world.db, b, 'tuner', DAY_BEFORE);
		expect((await queue(world.db)).rows.map((r) => r.title)).toEqual(['a', 'b']);
		expect((await neighbour(world.db, a, 1))!.job).toBe(b);
	});

	it('does not take a confirmation back that was given after the withdrawal', async () => {
		const id = await putJob(world.db);
		const r1 = await released(id, NOON);
		await confirmInstalled(world.db, r1, 'Ada', NOON);
		const r2 = await released(id, NOON, 80);
		await takeBack(world.db, r2, 'wrong table', NOON);
		expect(await isInTheCar(world.db, r1)).toBe(false);
		await confirmInstalled(world.db, r1, 'Ada', DAY_BEFORE);
		expect(await isInTheCar(world.db, r1)).toBe(true);
	});

	it('takes a log for a witness, until a later revision is taken back', async () => {
		const id = await putJob(world.db);
		const r1 = await released(id, DAY_BEFORE);
		expect(await isInTheCar(world.db, r1)).toBe(false);
		await putLog(world.db, id, { at: DAY_BEFORE.toISOString() });
		expect(await isInTheCar(world.db, r1)).toBe(true);
		const r2 = await released(id, DAY_BEFORE, 80);
		// R1 may well be in the car still, but it isn't what should be.
		expect(await isInTheCar(world.db, r1)).toBe(false);
		await takeBack(world.db, r2, 'wrong table', NOON);
		expect(await isInTheCar(world.db, r1)).toBe(false);
		await putLog(world.db, id, { at: new Date(NOON.getTime() + 1000).toISOString() });
		expect(await isInTheCar(world.db, r1)).toBe(true);
	});

	it('keeps the screening that a release rests on', async () => {
		const id = await putJob(world.db);
		const log = await putLog(world.db, id);
		const first = await putScreening(world.db, log, [{ severity: 'watch', title: 'w' }]);
		const resting = await putScreening(world.db, log, [{ severity: 'fix', title: 'f' }]);
		await released(id, DAY_BEFORE);
		for (let i = 0; i < 4; i++) await putScreening(world.db, log, []);
		await forgetScreenings(world.db, log);
		const kept = (await world.db.selectFrom('screenings').select('id').orderBy('id').execute()).map(
			(r) => r.id
		);
		expect(kept).toContain(resting);
		expect(kept).not.toContain(first);
		expect(kept).toHaveLength(4);
	});
});

it('a draft stands where it was begun, and where it went out once it is released', async () => {
	const id = await putJob(world.db);
	const parent = (await revision(world.db, (await currentRevision(world.db, id)).id))!;
	await createDraft(world.db, parent, null, []);
	await putLog(world.db, id, { name: 'while drafting.csv' });
	expect((await timelineOf(world.db, id)).map(called)).toEqual(['R0', 'R1', 'while drafting.csv']);
});
