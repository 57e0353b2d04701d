/** Passwords changed and set anew: the old one is out, with every session that it opened. */
import type { Cookies } from '@sveltejs/kit';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { openWorld, type World } from '$lib/server/testing/world.ts';
import { createTuner, openAccounts, signIn, tunerOf, type Auth } from './accounts.ts';
import { changePassword, resetPassword, resetToken } from './passwords.ts';

const ADA = { name: 'Ada', email: 'ada@tanto.example', password: 'the first one', role: 'owner' as const };
let world: World;
let auth: Auth;
beforeEach(async () => {
	world = await openWorld();
	auth = await openAccounts(world.db, world.folder);
	await createTuner(auth, ADA);
});
afterEach(() => world.close());

/** A browser: its cookies, and the requests that carry them. */
function browser() {
	const jar = new Map<string, string>();
	const cookies = { set: (name: string, value: string) => void jar.set(name, value) } as unknown as Cookies;
	const request = () =>
		new Request('http://127.0.0.1/', {
			headers: { cookie: [...jar].map(([k, v]) => `${k}=${encodeURIComponent(v)}`).join('; ') }
		});
	return {
		cookies,
		request,
		signIn: (password: string) => signIn(auth, request(), cookies, ADA.email, password),
		who: async () => (await tunerOf(auth, request(), cookies))?.name ?? null
	};
}

describe('a new password by a link', () => {
	it('works once, ends every session, and the old password opens nothing more', async () => {
		const phone = browser();
		expect(await phone.signIn('the first one')).toBe(true);
		expect(await phone.who()).toBe('Ada');
		const token = (await resetToken(auth, ADA.email))!;
		await resetPassword(auth, token, 'the second one');
		expect(await phone.who()).toBeNull();
		expect(await browser().signIn('the first one')).toBe(false);
		expect(await browser().signIn('the second one')).toBe(true);
		await expect(resetPassword(auth, token, 'the third one')).rejects.toThrow('does not work any more');
		expect(await browser().signIn('the second one')).toBe(true);
	});
	it('is made for accounts alone, and not taken after its hour', async () => {
		expect(await resetToken(auth, 'nobody@tanto.example')).toBeNull();
		expect(await resetToken(auth, 'no address')).toBeNull();
		await expect(resetPassword(auth, 'made up', 'the second one')).rejects.toThrow('does not work any more');
		const token = (await resetToken(auth, ADA.email))!;
		await world.db
			.updateTable('verification' as never)
			.set({ expiresAt: '2020-01-01T00:00:00.000Z' } as never)
			.execute();
		await expect(resetPassword(auth, token, 'the second one')).rejects.toThrow('does not work any more');
	});
	it('asked for by two at once goes to each their own', async () => {
		await createTuner(auth, { ...ADA, email: 'bo@tanto.example', name: 'Bo', role: 'tuner' });
		const [a, b] = await Promise.all([resetToken(auth, ADA.email), resetToken(auth, 'bo@tanto.example')]);
		expect(a).not.toBe(b);
		await resetPassword(auth, b!, 'bo has another');
		expect(await browser().signIn('the first one')).toBe(true);
	});
});

describe('another password for oneself', () => {
	it('takes the one that is valid, keeps this session and ends the others', async () => {
		const [here, elsewhere] = [browser(), browser()];
		await here.signIn('the first one');
		await elsewhere.signIn('the first one');
		const change = (current: string) =>
			changePassword(auth, here.request(), here.cookies, { current, next: 'the second one' });
		await expect(change('a guess of mine')).rejects.toThrow('not your password');
		expect(await elsewhere.who()).toBe('Ada');
		await change('the first one');
		expect(await here.who()).toBe('Ada');
		expect(await elsewhere.who()).toBeNull();
		expect(await browser().signIn('the second one')).toBe(true);
	});
});
