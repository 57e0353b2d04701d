/** Takes the pictures of `docs/screenshots` from a running demo: `npm run screenshots -- http://127.0.0.1:4173`. */
import { chromium, type Page } from '@playwright/test';
import { mkdirSync } from 'node:fs';
import { CHROMIUM } from './chromium.ts';

const address = process.argv[2] ?? 'http://127.0.0.1:4173';
const folder = 'docs/screenshots';
mkdirSync(folder, { recursive: true });
const browser = await chromium.launch(CHROMIUM);

async function shoot(
	name: string,
	path: string,
	theme: 'light' | 'dark',
	act?: (page: Page) => Promise<void>,
	size = { width: 1280, height: 800 }
) {
	const context = await browser.newContext({ viewport: size, colorScheme: theme });
	const page = await context.newPage();
	await page.goto(address + path);
	await page.waitForLoadState('networkidle');
	await act?.(page);
	await page.waitForTimeout(500);
	await page.screenshot({ path: `${folder}/${name}.png` });
	await context.close();
}

/** A draft with its proposals, and the customer's link, are made once and used for several pictures. */
async function draftOf(page: Page): Promise<void> {
	const propose = page.getByRole('button', { name: 'Propose the next revision' });
	if (await propose.isVisible()) await propose.click();
	else await page.getByRole('link', { name: /Open draft/ }).click();
	await page.getByRole('grid').waitFor();
	await page.waitForTimeout(300);
}

await shoot('queue', '/', 'light');
await shoot('new-job', '/jobs/new', 'light');
await shoot('job', '/jobs/3', 'light');
await shoot('log-verdict', '/jobs/1/logs/1', 'light');
await shoot('log-finding-night', '/jobs/2/logs/2', 'dark', async (page) => {
	await page.keyboard.press('f');
	await page.keyboard.press('f');
	await page.getByRole('heading', { name: 'Traces' }).scrollIntoViewIfNeeded();
	await page.waitForTimeout(800);
});
await shoot('log-outcome', '/jobs/3/logs/4', 'light');
await shoot('channels', '/jobs/1/logs/1/channels', 'light');
await shoot('correction-map', '/jobs/3/logs/3', 'light', async (page) => {
	await page.getByRole('heading', { name: 'Required correction' }).evaluate((e) => e.scrollIntoView());
});
await shoot('revision', '/jobs/2/logs/2', 'light', async (page) => {
	await draftOf(page);
	await page.keyboard.press('a');
	await page.getByRole('button', { name: 'Percent' }).click();
	await page.locator('[data-saving=saved]').waitFor();
});
await shoot('held-back', '/jobs/1/logs/1', 'light', draftOf);
await shoot('compare', '/jobs/3/compare', 'light');
await shoot('release', '/jobs/2/logs/2', 'light', async (page) => {
	await draftOf(page);
	await page.keyboard.press('a');
	await page.getByRole('button', { name: 'To the release' }).click();
	await page.waitForURL(/release/);
});
await shoot(
	'customer',
	'/jobs/3',
	'light',
	async (page) => {
		await page.getByRole('button', { name: /Make a/ }).click();
		await page.getByRole('link', { name: "Open the customer's page" }).click();
		await page.waitForLoadState('networkidle');
	},
	{ width: 390, height: 844 }
);
await browser.close();
