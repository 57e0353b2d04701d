/** Takes the pictures of `docs/screenshots` from a running demo: `npm run screenshots -- http://127.0.0.1:4173 [NAME…]`. */
import { chromium, type Page } from '@playwright/test';
import { mkdirSync } from 'node:fs';
import { csvOf } from '../src/core/logfile/write.ts';
import { handMade, pullShapes } from '../src/core/testing/hand-made.ts';
import { CHROMIUM } from './chromium.mjs';

const address = process.argv[2] ?? 'http://127.0.0.1:4173';
/** All of them where none is named. */
const wanted = process.argv.slice(3);
const folder = 'docs/screenshots';
mkdirSync(folder, { recursive: true });
const browser = await chromium.launch(CHROMIUM);
const entry = await browser.newContext();
const door = await entry.newPage();
await door.goto(`${address}/sign-in`);
await door.getByRole('button', { name: 'Sign in as the demo tuner' }).click();
await door.getByRole('link', { name: 'New job' }).first().waitFor();
const storageState = await entry.storageState();

async function shoot(
	name: string,
	path: string,
	theme: 'light' | 'dark',
	act?: (page: Page) => Promise<void>,
	size = { width: 1280, height: 800 }
) {
	if (wanted.length && !wanted.includes(name)) return;
	const context = await browser.newContext({ viewport: size, colorScheme: theme, storageState });
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
	const propose = page.getByRole('button', { name: 'Propose next revision' });
	if (await propose.isVisible()) await propose.click();
	else await page.getByRole('link', { name: /Open R\d draft/ }).click();
	await page.getByRole('grid').waitFor();
	await page.waitForTimeout(300);
}

/** From the page of a job to what its customer sees. */
async function customerPage(page: Page): Promise<void> {
	const make = page.getByRole('button', { name: 'make a link', exact: true });
	if (await make.isVisible()) await make.click();
	await page.getByRole('link', { name: 'open it' }).click();
	await page.waitForLoadState('networkidle');
}

await shoot('queue', '/', 'light');
await shoot('cause', '/jobs/8/cause', 'light');
await shoot('plugs', '/jobs/9/plugs', 'light');
await shoot('practice', '/practice', 'light', async (page) => {
	await page.getByLabel(/^Seed of level 3/).fill('5');
	await page.getByRole('button', { name: 'Play' }).nth(2).click();
	await page.getByRole('button', { name: 'Ask for a log' }).click();
	await page.getByLabel('A lambda sensor isn’t right').check();
	// The curves of the pull and of the whole log.
	await page.getByText('Whole log').waitFor({ timeout: 60_000 });
	await page.waitForTimeout(2500);
});
await shoot('log-verdict', '/jobs/1/logs/1', 'light');
await shoot('log-finding-night', '/jobs/2/logs/2', 'dark', async (page) => {
	await page.keyboard.press('f');
	await page.keyboard.press('f');
	await page.waitForTimeout(800);
});
await shoot('log-outcome', '/jobs/3/logs/4', 'light');
await shoot('evidence', '/jobs/2/evidence', 'light', async (page) => {
	await page.locator('[data-cell="5-9"]').click({ timeout: 60_000 });
});
await shoot('tables', '/jobs/6/tables', 'light', async (page) => {
	await page
		.locator('textarea')
		.first()
		.fill(
			'VE, percent\n\t1000\t2000\t3000\t4000\n15\t80\t83\t85\t84\n0\t50\t52\t54\t55\n-5\t30\t31\t32\t33\n'
		);
});
await shoot('ladder', '/jobs/10/ladder', 'light', async (page) => {
	await page.getByRole('img', { name: /^Steps so far/ }).waitFor({ timeout: 60_000 });
});
await shoot('cell-map', '/jobs/1/logs/1/map?show=banks', 'light', async (page) => {
	await page.locator('[data-cell="9-10"]').click();
	await page.waitForTimeout(900);
	await page.evaluate(() => scrollTo(0, 0));
});
await shoot('knock', '/jobs/5/logs/6/knock', 'light', async (page) => {
	await page.getByTestId('episode').waitFor();
});
await shoot('revision', '/jobs/2/logs/2', 'light', async (page) => {
	await draftOf(page);
	await page.keyboard.press('a');
	await page.getByRole('button', { name: 'Overlay log' }).click();
	await page.locator('[data-saving=saved]').waitFor();
	await page.waitForTimeout(2500);
	await page.locator('#cell-8-4').click();
});
await shoot('replay', '/jobs/2/logs/2', 'light', async (page) => {
	await draftOf(page);
	await page.keyboard.press('a');
	await page.locator('[data-saving=saved]').waitFor();
	await page.keyboard.press('v');
	await page.waitForURL(/replay/);
	await page.waitForLoadState('networkidle');
});
await shoot('compare', '/jobs/3/compare', 'light');
await shoot('release', '/jobs/2/logs/2', 'light', async (page) => {
	await draftOf(page);
	await page.keyboard.press('a');
	await page.getByRole('button', { name: 'Review release' }).click();
	await page.waitForURL(/release/);
});
await shoot(
	'customer',
	'/jobs/4',
	'light',
	async (page) => {
		await customerPage(page);
	},
	{ width: 390, height: 844 }
);
await shoot('drive-plan', '/jobs/1/plan?template=full-throttle&cap=150', 'light');
const short = [...csvOf(handMade(90, 20, pullShapes(40)))].join('');
await shoot(
	'customer-check',
	'/jobs/6',
	'light',
	async (page) => {
		await customerPage(page);
		await page.getByText('Send the log').click();
		await page
			.getByLabel('Choose the log')
			.setInputFiles({ name: 'evening.csv', mimeType: 'text/csv', buffer: Buffer.from(short) });
		await page.getByTestId('fit').scrollIntoViewIfNeeded();
	},
	{ width: 390, height: 844 }
);
await browser.close();
