/** Tests that print what the page showed when they fail. Pages and requests come from the demo tuner, signed in once. */
import {
	expect,
	test as base,
	type Browser,
	type BrowserContext,
	type Page,
	type Locator
} from '@playwright/test';

import { ADDRESS } from './addresses.ts';

export { ADDRESS };
/** A visitor without a session. */
export const STRANGER = { cookies: [], origins: [] };

type State = Awaited<ReturnType<BrowserContext['storageState']>>;

export const test = base.extend<object, { signedIn: State }>({
	signedIn: [
		async ({ browser }, use, { project }) => {
			const context = await browser.newContext({
				baseURL: project.use.baseURL ?? ADDRESS,
				storageState: STRANGER
			});
			const page = await context.newPage();
			await page.goto('/sign-in');
			await page.getByRole('button', { name: 'Sign in as the demo tuner' }).click();
			await page.getByRole('link', { name: 'Take on a job' }).first().waitFor();
			await use(await context.storageState());
			await context.close();
		},
		{ scope: 'worker' }
	],
	storageState: ({ signedIn }, use) => use(signedIn),
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

/** The interface is drawn by the server first; what it does works once it has been taken over in the browser. */
export async function open(page: Page, path: string): Promise<void> {
	await page.goto(path);
	await page.waitForLoadState('networkidle');
}

/** A new link for a job's customer; the one before stops working. */
export async function customerLink(page: Page, job: number | string): Promise<string> {
	await open(page, `/jobs/${job}`);
	await page.getByText('Record, vehicle and link').click();
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
