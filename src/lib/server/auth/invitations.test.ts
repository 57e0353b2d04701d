/** An invitation works for whom it was made, and for nobody who was removed. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { openWorld, type World } from '../testing/world.ts';
import { openAccounts, removeTuner } from './accounts.ts';
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
