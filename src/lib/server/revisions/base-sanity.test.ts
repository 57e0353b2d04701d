/** R0 beside what else left the workshop. */
import { afterEach, beforeEach, expect, it } from 'vitest';
import { calibrationWith, vehicleWith } from '$core/testing/hand-made.ts';
import { baseSanityOf } from './base-sanity.ts';
import { createJob, jobView } from '$lib/server/jobs/jobs.ts';
import { openWorld, type World } from '$lib/server/testing/world.ts';

let world: World;
beforeEach(async () => void (world = await openWorld()));
afterEach(() => world.close());

const timed = (deg: number) =>
	calibrationWith([
		{
			id: 'spark.table',
			kind: 'map',
			x: { channel: 'rpm', unit: 'rpm', points: [1000, 7000] },
			y: { channel: 'map', unit: 'kPa', points: [40, 160] },
			values: [
				[30, 30],
				[deg, deg]
			]
		}
	]);

/** A job whose revision went out. */
async function jobWith(name: string, deg: number, state: 'released' | 'draft' = 'released') {
	const { db } = world;
	const vehicle = vehicleWith({ displacementL: 2 }, { name });
	const id = await createJob(db, {
		customer: name,
		email: null,
		title: name,
		vehicle,
		calibration: timed(deg)
	});
	const r0 = await db.selectFrom('revisions').selectAll().where('job_id', '=', id).executeTakeFirstOrThrow();
	const { id: _, ...row } = r0;
	await db
		.insertInto('revisions')
		.values({ ...row, number: 1, state, parent_id: r0.id })
		.execute();
	return (await jobView(db, id))!;
}

it('is held against the released calibrations of like engines, never against drafts or itself', async () => {
	const job = await jobWith('Own', 24);
	await jobWith('Finch A', 12);
	await jobWith('Finch B', 13);
	expect(await baseSanityOf(world.db, job)).toMatchObject({ found: [], like: ['Finch B', 'Finch A'] });
	await jobWith('Not out yet', 14, 'draft');
	expect((await baseSanityOf(world.db, job)).found).toEqual([]);
	await jobWith('Finch C', 14);
	const { found } = await baseSanityOf(world.db, job);
	expect(found).toHaveLength(1);
	expect(found[0]).toMatchObject({ item: 'spark.table', against: 'Finch C, Finch B, Finch A' });
	expect(found[0]!.why).toContain('10.0° more timing');
});
