/** An invitation works for whom it was made, and for nobody who was removed. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { openWorld, type World } from '$lib/server/testing/world.ts';
import { releaserOf } from '$lib/server/http/http.ts';
import { openAccounts, removeTuner, tuners } from './accounts.ts';
import { accept, invite } from './invitations.ts';

let world: World;
beforeEach(async () => void (world = await openWorld()));
afterEach(() => world.close());

describe('who was removed', () => {
	it('does not come back by an invitation that was still open', async () => {
		const { db, folder } = world;
		const auth = await openAccounts(db, folder);
		const first = await invite(db, 'new@tanto.example', 'owner');
		const second = await invite(db, 'new@tanto.example', 'owner');
		await expect(accept(db, auth, first, 'New', 'long enough 1')).rejects.toThrow('does not work any more');
		await accept(db, auth, second, 'New', 'long enough 1');
		const { id } = await db.selectFrom('user').select('id').executeTakeFirstOrThrow();
		// An invitation made in the meantime to the same address, by hand as an older version left it.
		await db
			.insertInto('invitations')
			.values({
				email: 'new@tanto.example',
				token_hash: 'h',
				invited_by: 'o',
				created_at: 'now',
				expires_at: '9999'
			})
			.execute();
		expect(await removeTuner(db, id)).toBe(true);
		expect(await db.selectFrom('invitations').select('id').where('used_at', 'is', null).execute()).toEqual(
			[]
		);
	});
});

describe('an apprentice', () => {
	it('is invited as one, and may prepare what only a tuner sends out', async () => {
		const { db, folder } = world;
		const auth = await openAccounts(db, folder);
		await accept(
			db,
			auth,
			await invite(db, 'young@tanto.example', 'owner', 'apprentice'),
			'Young',
			'long enough 1'
		);
		await accept(db, auth, await invite(db, 'old@tanto.example', 'owner'), 'Old', 'long enough 1');
		const all = await tuners(db);
		expect(all.map((t) => [t.name, t.role]).sort()).toEqual([
			['Old', 'tuner'],
			['Young', 'apprentice']
		]);
		const as = (name: string) => {
			const t = all.find((x) => x.name === name)!;
			return { tuner: { id: t.id, name: t.name, email: t.email, role: t.role, sessionToken: '' } };
		};
		expect(releaserOf(as('Old')).name).toBe('Old');
		expect(() => releaserOf(as('Young'))).toThrow('an apprentice prepares');
	});
});
