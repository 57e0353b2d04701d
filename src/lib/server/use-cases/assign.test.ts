/** Whose job it is: handed over with a note, taken, given back; the queue asks for mine, for nobody's, for all. */
import { afterEach, beforeEach, expect, it } from 'vitest';
import { jobView } from '$lib/server/jobs/jobs.ts';
import { messagesOf } from '$lib/server/jobs/messages.ts';
import { NOBODY, queue } from '$lib/server/jobs/queue.ts';
import { openWorld, putJob, type World } from '$lib/server/testing/world.ts';
import { assignJob } from './assign.ts';

let world: World;
const ANN = { id: 'ann', name: 'Ann Reed' };
const BO = { id: 'bo', name: 'Bo Lark' };
beforeEach(async () => void (world = await openWorld()));
afterEach(() => world.close());
const assign = async (job: number, tuner: string, note = '') =>
	assignJob(world.db, await view(job), ANN, [ANN, BO], { tuner, note });
const view = async (id: number) => (await jobView(world.db, id))!;
const notes = async (id: number) => (await messagesOf(world.db, id)).map((m) => `${m.author}: ${m.body}`);
const ids = async (tuner: string | null) => (await queue(world.db, { tuner })).rows.map((r) => r.id);

it('is handed over with a note, taken over, and given back', async () => {
	const id = await putJob(world.db, {});
	expect((await view(id)).tuner).toBeNull();
	await assign(id, 'bo', 'R2 is out, knock at the top');
	expect((await view(id)).tuner).toEqual(BO);
	await assign(id, 'ann');
	await assign(id, '', 'on holiday');
	expect((await view(id)).tuner).toBeNull();
	expect((await notes(id)).sort()).toEqual([
		'Ann Reed: Given back: nobody’s job now: on holiday',
		'Ann Reed: Handed over to Bo Lark: R2 is out, knock at the top',
		'Ann Reed: Taken over by Ann Reed.'
	]);
});

it('the queue tells mine from nobody’s', async () => {
	const [one, two] = [await putJob(world.db, {}), await putJob(world.db, {})];
	await assign(one, 'bo');
	expect(await ids('bo')).toEqual([one]);
	expect(await ids(NOBODY)).toEqual([two]);
	expect((await ids(null)).sort()).toEqual([one, two].sort());
});

it('nobody that isn’t there, and no hand-over to whose job it is', async () => {
	const id = await putJob(world.db, {});
	await expect(assign(id, 'eve')).rejects.toThrow('no such tuner');
	await assign(id, 'ann');
	await expect(assign(id, 'ann')).rejects.toThrow('already');
	expect(await notes(id)).toHaveLength(1);
});
