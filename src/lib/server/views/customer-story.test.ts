import { afterEach, beforeEach, expect, it } from 'vitest';
import { planFrom } from '$core/planning/templates.ts';
import { vehicleWith } from '$core/testing/hand-made.ts';
import { ask } from '$lib/server/jobs/drive-plans.ts';
import { confirmInstalled } from '$lib/server/revisions/revision-events.ts';
import { revision } from '$lib/server/revisions/revisions.ts';
import { draftWith, openWorld, putJob, releaseAll, type World } from '$lib/server/testing/world.ts';
import { storyOf } from './customer-story.ts';

let world: World;
beforeEach(async () => {
	world = await openWorld();
});
afterEach(() => world.close());

it('tells what was sent and done, newest first; of drafts and of what was received with the car nothing', async () => {
	const { db } = world;
	const job = await putJob(db);
	expect(await storyOf(db, job)).toEqual([]);
	const draft = await draftWith(db, job);
	await ask(
		db,
		job,
		'street-baseline',
		planFrom('street-baseline', vehicleWith(), { speedCapKmh: null }),
		new Date('2026-01-01')
	);
	expect((await storyOf(db, job)).map((l) => l.says)).toEqual(['asked for a log: Street baseline']);
	const out = await releaseAll(db, (await revision(db, draft.id))!);
	await confirmInstalled(db, out, 'customer', new Date('2099-01-01'));
	const story = await storyOf(db, job, { at: '2099-06-01T00:00:00.000Z' });
	expect(story.map((l) => [l.by, l.says])).toEqual([
		['tuner', 'called the tune done'],
		['you', 'R1 went into the car'],
		['tuner', 'R1 was sent to you'],
		['tuner', 'asked for a log: Street baseline']
	]);
});
