/**
 * Tests on the demo world. Every spec has a server of its own on a copy of it, so that specs run alone, in any order and side by side;
 * pages and requests come from the demo tuner, signed in once. A test that fails prints what the page showed.
 */
import {
	expect,
	test as base,
	type Browser,
	type BrowserContext,
	type Page,
	type Locator
} from '@playwright/test';
import { BuiltServer } from './built-server.ts';

/** A visitor without a session. */
export const STRANGER = { cookies: [], origins: [] };

type State = Awaited<ReturnType<BrowserContext['storageState']>>;

/** The server of the spec that is running, and the demo tuner's session on it. */
class SpecServer {
	private spec = '';
	private server: BuiltServer | null = null;
	private session: State | null = null;
	private context: BrowserContext | null = null;

	async of(spec: string): Promise<BuiltServer> {
		if (this.server && this.spec === spec) return this.server;
		await this.remove();
		this.spec = spec;
		return (this.server = await BuiltServer.withDemoWorld());
	}

	async signedIn(browser: Browser): Promise<State> {
		if (this.session) return this.session;
		const context = await browser.newContext({ baseURL: this.server!.address, storageState: STRANGER });
		const page = await context.newPage();
		await page.goto('/sign-in');
		await page.getByRole('button', { name: 'Sign in as the demo tuner' }).click();
		await page.getByRole('link', { name: 'New job' }).first().waitFor();
		this.session = await context.storageState();
		await context.close();
		return this.session;
	}

	/** One for all tests of a spec, so that its cache keeps the scripts; with the cookies of somebody who has just signed in. */
	async contextOf(browser: Browser): Promise<BrowserContext> {
		const { cookies } = await this.signedIn(browser);
		if (this.context) {
			// Closed here and not at the end of the test before: a picture of what failed is taken after that.
			for (const page of this.context.pages()) await page.close();
			await this.context.clearCookies();
			await this.context.addCookies(cookies);
		} else this.context = await browser.newContext({ acceptDownloads: true });
		return this.context;
	}

	async remove(): Promise<void> {
		await this.context?.close();
		await this.server?.remove();
		this.context = null;
		this.server = null;
		this.session = null;
	}
}

export const test = base.extend<{ server: BuiltServer; signedIn: State }, { specServer: SpecServer }>({
	specServer: [
		async ({}, use) => {
			const specServer = new SpecServer();
			await use(specServer);
			await specServer.remove();
		},
		{ scope: 'worker' }
	],
	server: async ({ specServer }, use, info) => use(await specServer.of(info.file)),
	baseURL: ({ server }, use) => use(server.address),
	// Asks for the server, so that there is one to sign in to.
	signedIn: async ({ specServer, server: _, browser }, use) => use(await specServer.signedIn(browser)),
	storageState: ({ signedIn }, use) => use(signedIn),
	context: async ({ specServer, server: _, browser }, use) => use(await specServer.contextOf(browser)),
	page: async ({ page }, use, info) => {
		const said: string[] = [];
		page.on('pageerror', (e) => said.push(`page error: ${e.message}`));
		page.on('console', (m) => {
			if (m.type() === 'error') said.push(`console: ${m.text()}`);
		});
		await use(page);
		if (info.status !== info.expectedStatus)
			console.log(
				`--- ${page.url()}\n${said.join('\n')}\n${(
					await page
						.locator('body')
						.innerText()
						.catch(() => '')
				).slice(0, 3000)}\n---`
			);
		else expect(said.filter((s) => !/status of 4\d\d/.test(s))).toEqual([]);
	}
});

export { expect };

/** Waits until the page of an address stands, drawn and taken over by its scripts: what is clicked or typed from then on counts. */
export async function arrived(page: Page, url?: string | RegExp | ((url: URL) => boolean)): Promise<void> {
	if (url !== undefined) await page.waitForURL(url);
	await page.waitForFunction(() => document.documentElement.dataset['at'] === location.pathname);
}

/** The interface is drawn by the server first; what it does works once it has been taken over in the browser. */
export async function open(page: Page, path: string): Promise<void> {
	await page.goto(path);
	await arrived(page);
}

/** Opens a page and waits for what it works out or loads after its first answer. */
export async function openWhole(page: Page, path: string): Promise<void> {
	await open(page, path);
	await expect(page.locator('[aria-busy=true]')).toHaveCount(0, { timeout: 60_000 });
}

/** A new link for a job's customer; the one before stops working. */
export async function customerLink(page: Page, job: number | string): Promise<string> {
	await open(page, `/jobs/${job}/messages`);
	const field = page.getByLabel(/^The link\./);
	const before = (await field.isVisible()) ? await field.inputValue() : '';
	await page.getByRole('button', { name: /^Make a/ }).click();
	await expect(field).not.toHaveValue(before);
	return field.inputValue();
}

/** The customer's phone. */
export async function phone(browser: Browser): Promise<{ page: Page; close: () => Promise<void> }> {
	const context = await browser.newContext({
		viewport: { width: 390, height: 844 },
		acceptDownloads: true,
		storageState: STRANGER
	});
	return { page: await context.newPage(), close: () => context.close() };
}

/** Takes an action of the menu in the head of a page. */
export async function more(page: Page, action: string): Promise<void> {
	await page.getByRole('button', { name: 'More', exact: true }).click();
	await page.getByRole('menuitem', { name: action }).click();
}

/** Goes to another page of the log; a tab says its worst finding too. */
export async function tab(page: Page, name: string): Promise<void> {
	await page
		.getByRole('navigation', { name: 'Pages of the log' })
		.getByRole('link', { name: new RegExp(`^${name}`) })
		.click();
}

/** Shows an item of a revision; the unchanged ones are folded. */
export async function pickItem(page: Page, name: string): Promise<void> {
	const items = page.getByRole('navigation', { name: 'Items of the calibration' });
	const folded = items.locator('details:not([open]) > summary');
	if (await folded.count()) await folded.click();
	await items.getByRole('button', { name }).click();
}

/** Takes an action of the menu of a table. */
export async function edit(page: Page, action: string): Promise<void> {
	await page.getByRole('button', { name: 'Edit', exact: true }).click();
	await page.getByRole('menuitem', { name: action }).click();
}

/** Picks the option that a pattern fits. */
export async function pick(select: Locator, label: RegExp): Promise<void> {
	const text = await select.locator('option', { hasText: label }).first().textContent();
	await select.selectOption({ label: text!.trim() });
}

/** Opens a folded part of the customer's page. */
export async function unfold(customer: Page, title: string): Promise<void> {
	const part = customer.locator('details', {
		has: customer.getByRole('heading', { name: new RegExp(title) })
	});
	if ((await part.getAttribute('open')) === null) await part.locator('summary').first().click();
}
