/** Who gets in: every route there is, walked by strangers, by a tuner who was removed, and with another job's link. */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { APIRequestContext } from '@playwright/test';
import { createTuner, openAccounts } from '../../src/lib/server/auth/accounts.ts';
import { GUARDED, refusedTo } from '../../src/lib/server/auth/rights.ts';
import { connect } from '../../src/lib/server/db/open.ts';
import { customerLink, expect, open, STRANGER, test } from './page.ts';

const ROUTES = join(dirname(fileURLToPath(import.meta.url)), '..', '..', 'src', 'routes');

interface Way {
	/** Route as the folders name it, without groups. */
	id: string;
	method: string;
	/** Named action of a page. */
	action?: string;
}

/** Every way into the server, read from the folders: a route that is added later is walked too. */
function ways(folder = ROUTES): Way[] {
	const out: Way[] = [];
	const id = `/${relative(ROUTES, folder)}`.replace(/\/\([^)]*\)/g, '').replace(/^\/$/, '') || '/';
	for (const entry of readdirSync(folder, { withFileTypes: true })) {
		const path = join(folder, entry.name);
		if (entry.isDirectory()) out.push(...ways(path));
		else if (entry.name === '+page.svelte') out.push({ id, method: 'GET' });
		else if (entry.name === '+server.ts')
			for (const m of readFileSync(path, 'utf8').matchAll(/^export const ([A-Z]+)\b/gm))
				out.push({ id, method: m[1]! });
		else if (entry.name === '+page.server.ts') {
			const actions = readFileSync(path, 'utf8').split(/^export const actions/m)[1] ?? '';
			for (const m of actions.matchAll(/^\t(\w+): (async )?\(/gm))
				out.push({ id, method: 'POST', action: m[1]! });
		}
	}
	return out;
}

const OPEN = /^\/(sign-in|setup|forgotten|reset\/\[token\]|join\/\[token\])$/;
const CUSTOMER = /^\/c\/\[token\]/;

function filled(id: string, values: Record<string, string>): string {
	return id.replace(/\[(?:\.\.\.)?(\w+)\]/g, (_, name: string) => values[name] ?? '1');
}

async function go(request: APIRequestContext, address: string, way: Way, path: string) {
	const url = `${path}${way.action && way.action !== 'default' ? `?/${way.action}` : ''}`;
	return request.fetch(url, {
		method: way.method,
		maxRedirects: 0,
		headers: {
			origin: address,
			...(way.id.includes('uploads') ? { 'tus-resumable': '1.0.0' } : {}),
			...(way.method === 'PATCH'
				? { 'upload-offset': '0', 'content-type': 'application/offset+octet-stream' }
				: {})
		},
		...(way.method === 'POST'
			? { form: { body: 'x', id: '1', item: 'clamps', state: 'fine', remark: 'x' } }
			: {})
	});
}

const all = ways();

test('the walk knows the routes', () => {
	expect(all.length).toBeGreaterThan(45);
	expect(all).toContainEqual({ id: '/api/v1/logs/[log]/export', method: 'GET' });
	expect(all).toContainEqual({ id: '/jobs/[job]/logs/[log]', method: 'POST', action: 'decline' });
	expect(all).toContainEqual({ id: '/c/[token]/files/[file]', method: 'GET' });
});

const VALUES = { job: '1', log: '1', rev: '1', pull: '0', photo: '1', key: 'lanes', customer: '1', id: 'x' };

test('without a session, and with a forged one, nothing of the tuners opens', async ({
	playwright,
	server
}) => {
	for (const cookie of ['', 'tanto.session_token=aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa.bbbb'])
		for (const way of all.filter((w) => !OPEN.test(w.id) && !CUSTOMER.test(w.id))) {
			const request = await playwright.request.newContext({
				baseURL: server.address,
				storageState: STRANGER,
				extraHTTPHeaders: cookie ? { cookie } : {}
			});
			const answer = await go(request, server.address, way, filled(way.id, VALUES));
			const what = `${way.method} ${way.id} ${way.action ?? ''}`;
			if (way.id.startsWith('/api/')) expect(answer.status(), what).toBe(401);
			else if (way.method === 'GET') {
				expect(answer.status(), what).toBe(303);
				expect(answer.headers()['location'], what).toMatch(/^\/sign-in/);
			} else expect(answer.status(), what).toBe(401);
			expect(await answer.text(), what).not.toContain('Kestrel');
			await request.dispose();
		}
});

test('a wrong link opens nothing, a right one nothing of another job', async ({
	page,
	playwright,
	server
}) => {
	// What is asked for stands elsewhere: a released file, a photo, a recording kit of another controller.
	const other = await customerLink(page, 5);
	const mine = new URL(await customerLink(page, 1)).pathname;
	const request = await playwright.request.newContext({ baseURL: server.address, storageState: STRANGER });
	const pixel = Buffer.from(
		'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
		'base64'
	);
	const sent = await request.post(`${mine}/inspection?/photo`, {
		headers: { origin: server.address },
		multipart: { item: 'clamps', photo: { name: 'p.png', mimeType: 'image/png', buffer: pixel } }
	});
	expect(sent.status()).toBe(200);
	const photos = [...(await (await request.get(`${mine}/inspection`)).text()).matchAll(/photos\/(\d+)/g)];
	const photo = photos.at(-1)![1]!;
	expect((await request.get(`${mine}/photos/${photo}`)).headers()['content-type']).toBe('image/jpeg');
	// A kit belongs to a controller: who has it gets its file.
	expect((await request.get(`${mine}/kit/1`)).status()).toBe(200);
	const token = new URL(other).pathname.split('/')[2]!;
	const begun = await request.post(`${mine}/uploads`, {
		headers: { 'upload-length': '10', 'tus-resumable': '1.0.0', 'upload-metadata': `name ${btoa('a.csv')}` }
	});
	expect(begun.status()).toBe(201);
	const upload = begun.headers()['location']!.split('/').at(-1)!;
	for (const way of all.filter(
		(w) => CUSTOMER.test(w.id) && /\[(file|photo|\.\.\.id)\]/.test(w.id) && w.method !== 'POST'
	)) {
		const path = filled(way.id, { token, file: '1', photo, id: upload });
		const answer = await go(request, server.address, way, path);
		expect([404, 410], `${way.method} ${way.id}`).toContain(answer.status());
	}
	for (const way of all.filter((w) => CUSTOMER.test(w.id))) {
		const path = filled(way.id, { token: 'A'.repeat(43), file: '1', photo, id: upload });
		expect((await go(request, server.address, way, path)).status(), `${way.method} ${way.id}`).toBe(404);
	}
	await request.dispose();
});

test('a closed link opens nothing any more', async ({ page, request }) => {
	const link = new URL(await customerLink(page, 4)).pathname;
	expect((await request.get(link)).status()).toBe(200);
	await open(page, '/jobs/4/messages');
	await page.getByRole('button', { name: 'Close the link' }).click();
	await expect(page.getByRole('button', { name: 'Make a link', exact: true })).toBeVisible();
	expect((await request.get(link)).status()).toBe(404);
});

test('forms of another site are refused', async ({ request }) => {
	const answer = await request.post('/jobs/1?/note', {
		headers: { origin: 'http://elsewhere.example' },
		form: { body: 'planted' }
	});
	expect(answer.status()).toBe(403);
	expect(await (await request.get('/jobs/1')).text()).not.toContain('planted');
});

test('headers keep pages from being framed, sniffed, or leaking the customer address', async ({
	page,
	request
}) => {
	const link = new URL(await customerLink(page, 2)).pathname;
	for (const path of ['/', link]) {
		const headers = (await request.get(path)).headers();
		expect(headers['content-security-policy']).toContain("frame-ancestors 'none'");
		expect(headers['content-security-policy']).not.toMatch(/script-src[^;]*unsafe/);
		expect(headers['x-content-type-options']).toBe('nosniff');
		expect(headers['x-frame-options']).toBe('DENY');
	}
	const headers = (await request.get(link)).headers();
	expect(headers['referrer-policy']).toBe('no-referrer');
	expect(headers['cache-control']).toContain('no-store');
});

test('a tuner is invited, signs in, and is out at once when removed', async ({ page, browser }) => {
	await open(page, '/team');
	await page.getByLabel('Mail address').fill('wim@tanto.example');
	await page.getByRole('button', { name: 'Invite' }).click();
	const link = await page.getByLabel(/works once/).inputValue();
	// Mail goes out by itself, a moment later.
	await expect
		.poll(async () => {
			await open(page, '/mail');
			return (await page.locator('article').allInnerTexts()).join('\n');
		})
		.toContain(link);

	const context = await browser.newContext({ storageState: STRANGER });
	const theirs = await context.newPage();
	await open(theirs, link);
	await theirs.getByLabel('Your name').fill('Wim Sorrel');
	await theirs.getByLabel(/Password/).fill('short');
	await theirs.getByLabel(/Password/).evaluate((e) => e.removeAttribute('minlength'));
	await theirs.getByRole('button', { name: 'Make the account' }).click();
	await expect(theirs.getByRole('alert')).toContainText('at least 10 characters');
	await theirs.getByLabel(/Password/).fill('a longer password');
	await theirs.getByRole('button', { name: 'Make the account' }).click();
	await expect(theirs.getByRole('heading', { level: 1 })).toContainText('wait');
	expect((await context.request.get(link)).status()).toBe(404);
	await open(theirs, '/team');
	await expect(theirs.getByRole('button', { name: 'Invite' })).toHaveCount(0);

	await open(page, '/team');
	await page.getByRole('button', { name: 'Remove Wim Sorrel' }).click();
	await expect(page.getByText('Wim Sorrel')).toHaveCount(0);
	expect((await context.request.get('/api/v1/logs/1')).status()).toBe(401);
	await theirs.goto('/');
	await expect(theirs).toHaveURL(/\/sign-in/);
	await context.close();
});

test('signing out everywhere ends the other machines, and wrong passwords are slowed down', async ({
	browser
}) => {
	const machine = async () => {
		const context = await browser.newContext({ storageState: STRANGER });
		const page = await context.newPage();
		await page.goto('/sign-in');
		return { context, page };
	};
	const enter = async (
		page: Awaited<ReturnType<typeof machine>>['page'],
		email: string,
		password: string
	) => {
		await page.getByLabel('Mail address').fill(email);
		await page.getByLabel('Password').fill(password);
		await page.getByRole('button', { name: 'Sign in', exact: true }).click();
	};
	const a = await machine();
	const b = await machine();
	// An account of its own: the demo tuner's sessions are used by the other tests.
	const owner = await machine();
	await owner.page.getByRole('button', { name: 'Sign in as the demo tuner' }).click();
	await owner.page.waitForURL('/');
	await open(owner.page, '/team');
	await owner.page.getByLabel('Mail address').fill('ola@tanto.example');
	await owner.page.getByRole('button', { name: 'Invite' }).click();
	const link = await owner.page.getByLabel(/works once/).inputValue();
	await open(a.page, link);
	await a.page.getByLabel('Your name').fill('Ola Brandt');
	await a.page.getByLabel(/Password/).fill('ten letters and more');
	await a.page.getByRole('button', { name: 'Make the account' }).click();
	await a.page.waitForURL('/');
	await enter(b.page, 'ola@tanto.example', 'ten letters and more');
	await b.page.waitForURL('/');
	await open(b.page, '/team');
	await b.page.getByRole('button', { name: /Sign out everywhere/ }).click();
	await expect(b.page).toHaveURL(/\/sign-in/);
	expect((await a.context.request.get('/api/v1/logs/1')).status()).toBe(401);

	for (let i = 0; i < 5; i++) {
		await enter(b.page, 'ola@tanto.example', 'wrong password');
		await expect(b.page.getByRole('alert')).toContainText('do not belong together');
		await open(b.page, '/sign-in');
	}
	await enter(b.page, 'ola@tanto.example', 'ten letters and more');
	await expect(b.page.getByRole('alert')).toContainText('Too many attempts');
	for (const m of [a, b, owner]) await m.context.close();
});

test('signing in goes on to where one wanted to go, never to another site', async ({ browser }) => {
	const context = await browser.newContext({ storageState: STRANGER });
	const page = await context.newPage();
	await page.goto('/jobs/3');
	await page.getByRole('button', { name: 'Sign in as the demo tuner' }).click();
	await expect(page).toHaveURL('/jobs/3');
	await context.clearCookies();
	for (const then of ['//elsewhere.example', '/\\elsewhere.example', 'http://elsewhere.example']) {
		await page.goto(`/sign-in?then=${encodeURIComponent(then)}`);
		await page.getByRole('button', { name: 'Sign in as the demo tuner' }).click();
		await expect(page).toHaveURL('/');
		await context.clearCookies();
	}
	await context.close();
});

// The last: what an apprentice may do is done.
test('an apprentice is refused what is a tuner’s or the owner’s, on every route, and nothing else', async ({
	playwright,
	server
}) => {
	const db = connect(server.folder);
	const account = { name: 'Young', email: 'young@tanto.example', password: 'long enough 1' };
	await createTuner(await openAccounts(db, server.folder), { ...account, role: 'apprentice' });
	await db.destroy();
	const request = await playwright.request.newContext({ baseURL: server.address, storageState: STRANGER });
	const signedIn = await request.post('/sign-in?/password', {
		maxRedirects: 0,
		headers: { origin: server.address, accept: 'text/html' },
		form: { email: account.email, password: account.password }
	});
	expect(signedIn.status()).toBe(303);
	// Ends the session that the others need.
	const last = new Set(['/team signOut', '/team everywhere']);
	const named = new Map([...GUARDED].map((deed) => [deed.replace(/\/\([^)]*\)/g, ''), deed]));
	let refused = 0;
	for (const way of all.filter((w) => w.method !== 'GET' && !OPEN.test(w.id) && !CUSTOMER.test(w.id))) {
		const what = `${way.id} ${way.action ?? way.method}`;
		const deed = named.get(what);
		if (way.method === 'HEAD' || last.has(what)) continue;
		expect(deed, what).toBeDefined();
		const may = refusedTo('apprentice', deed!) === null;
		const answer = await go(request, server.address, way, filled(way.id, VALUES));
		if (may) expect(answer.status(), what).not.toBe(403);
		else expect(answer.status(), what).toBe(403);
		if (!may) refused++;
	}
	expect(refused).toBeGreaterThan(20);
	await request.dispose();
});
