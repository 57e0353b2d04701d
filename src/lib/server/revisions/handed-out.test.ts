import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { handedOut, handTables } from './handed-out.ts';
import { revision } from './revisions.ts';
import { draftWith, openWorld, putJob, releaseAll, type World } from '$lib/server/testing/world.ts';
import { saveWorkshopSetting, workshopSetting } from '$lib/server/jobs/workshop.ts';

let world: World;
beforeEach(async () => {
	world = await openWorld();
});
afterEach(() => world.close());

describe('what a customer can download', () => {
	it('is nothing of a draft, and of a release the closed files alone unless somebody opened the tables', async () => {
		const { db } = world;
		const draft = await draftWith(db, await putJob(db));
		await db
			.insertInto('attachments')
			.values({
				revision_id: draft.id,
				name: 'closed.bin',
				bytes: 1,
				sha256: 'f'.repeat(64),
				hardware: 'h',
				software: 's',
				created_at: ''
			})
			.execute();
		expect(await handedOut(db, draft)).toEqual({ files: [], tables: null });
		await expect(handTables(db, draft, true, 'Sable')).rejects.toThrow('not released');
		const out = await releaseAll(db, (await revision(db, draft.id))!);
		const given = await handedOut(db, out);
		expect(given.files.map((f) => f.name)).toEqual(['closed.bin']);
		expect(given.tables).toBeNull();
		await handTables(db, out, true, 'Sable');
		// Saying so twice changes nothing, least of all who said it first.
		await handTables(db, out, true, 'Ada');
		expect((await handedOut(db, out)).tables).toMatchObject({ author: 'Sable' });
		await handTables(db, out, false, 'Sable');
		expect((await handedOut(db, out)).tables).toBeNull();
	});
	it('is the closed file where the workshop has decided nothing', async () => {
		expect(await workshopSetting(world.db, 'offersTables')).toBe(false);
		await saveWorkshopSetting(world.db, 'offersTables', true);
		expect(await workshopSetting(world.db, 'offersTables')).toBe(true);
	});
});
