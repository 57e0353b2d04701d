/** Maxima typed without a log: kept with a job, held against its limits, beside another car. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { vehicleWith } from '$core/testing/hand-made.ts';
import { openWorld, putJob, type World } from '$lib/server/testing/world.ts';
import { currentRevision } from '$lib/server/revisions/revisions.ts';
import { jobView } from './jobs.ts';
import { dropMaxima, keepMaxima, maximaBeyond, maximaOf, maximaOfLike } from './maxima.ts';
import { timelineOf } from './timeline.ts';

let world: World;
let jobId: number;
let revisionId: number;
const vehicle = vehicleWith();
const typed = (values: object, since: string | null = null) => ({
	schema: 'tanto.maxima/1',
	source: 'the controller',
	since,
	values
});
beforeEach(async () => {
	world = await openWorld();
	jobId = await putJob(world.db);
	revisionId = (await currentRevision(world.db, jobId)).id;
});
afterEach(() => world.close());
const keep = (values: object, job = jobId, revision = revisionId) =>
	keepMaxima(world.db, job, revision, 'Sable Orrin', typed(values));

describe('maxima of a job', () => {
	it('stand on the string with how grave they are, the newest first on their page', async () => {
		await keep({ duty: 60 });
		const id = await keep({ duty: 94, coolant: 95 });
		expect((await timelineOf(world.db, jobId)).slice(-2)).toMatchObject([
			{ kind: 'maxima', state: 'clear' },
			{ kind: 'maxima', id, state: 'fix', detail: 'Injector duty beyond its limit' }
		]);
		expect(
			(await maximaOf(world.db, jobId, vehicle)).map((m) => [m.reading.values.duty, m.revision])
		).toEqual([
			[94, 0],
			[60, 0]
		]);
	});
	it('hold a revision by the newest of its parent: a later one within the limits clears it', async () => {
		expect(await maximaBeyond(world.db, jobId, revisionId, vehicle)).toBeNull();
		await keep({ duty: 94 });
		expect((await maximaBeyond(world.db, jobId, revisionId, vehicle))?.words).toContain('injector duty 94 %');
		await keep({ duty: 70 });
		expect(await maximaBeyond(world.db, jobId, revisionId, vehicle)).toBeNull();
	});
	it('leave with their bead, and only from their own job', async () => {
		const id = await keep({ knock: 7 });
		const other = await putJob(world.db, { title: 'another' });
		await expect(dropMaxima(world.db, other, id)).rejects.toThrow('no such reading');
		await dropMaxima(world.db, jobId, id);
		expect(await maximaOf(world.db, jobId, vehicle)).toEqual([]);
		expect((await timelineOf(world.db, jobId)).some((e) => e.kind === 'maxima')).toBe(false);
		expect(await keep({ knock: 7 })).toBeGreaterThan(id);
	});
	it.each([
		['a revision of another job', async () => keep({ duty: 50 }, jobId, 999), 'which released revision'],
		[
			'a day to come',
			async () => keepMaxima(world.db, jobId, revisionId, 'S', typed({ duty: 50 }, '2999-01-01')),
			'in the future'
		]
	])('%s is refused, and nothing is kept', async (_, put, words) => {
		await expect(put()).rejects.toThrow(words);
		expect(await maximaOf(world.db, jobId, vehicle)).toEqual([]);
	});
	it('stand beside the newest of each other car of the kind', async () => {
		const beside = async (name: string, cylinders: number, duties: number[]) => {
			const id = await putJob(world.db, { customer: name, vehicle: vehicleWith({ cylinders }, { name }) });
			for (const duty of duties) await keep({ duty }, id, (await currentRevision(world.db, id)).id);
		};
		const { cylinders } = vehicle.engine;
		await beside('like one', cylinders, [60, 66]);
		await beside('other kind', cylinders + 2, [90]);
		await keep({ duty: 80 });
		const job = (await jobView(world.db, jobId))!;
		expect((await maximaOfLike(world.db, job)).map((o) => [o.vehicle, o.values.duty])).toEqual([
			['like one', 66]
		]);
	});
});
