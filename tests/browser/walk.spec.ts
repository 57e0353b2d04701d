/**
 * Every page of the demo world once, by day and by night, and with it what holds everywhere: no fault of accessibility, nothing that scrolls
 * sideways, titles instead of ids, and no unit but the reader's.
 */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Browser, Page } from '@playwright/test';
import { CHANNELS } from '../../src/core/channels/canonical.ts';
import { ITEMS } from '../../src/core/calibration/items.ts';
import { CODES } from '../../src/core/screening/codes.ts';
import type { UnitChoice } from '../../src/core/units/display.ts';
import { expect, open, openWhole, test } from './page.ts';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

const PAGES = [
	'/',
	'/jobs/new',
	'/jobs/1',
	'/jobs/1/logs/1',
	'/jobs/1/logs/1/channels',
	'/jobs/1/logs/1/cylinders',
	'/jobs/1/logs/1/drivetrain',
	'/jobs/1/logs/1/map',
	'/jobs/1/logs/1/readiness',
	'/jobs/1/logs/1/sensors',
	'/jobs/2/logs/2',
	'/jobs/2/logs/2/knock',
	'/jobs/3/logs/4/readiness',
	'/jobs/4/logs/5/delivered',
	'/jobs/4/logs/5/nitrous',
	'/jobs/5/logs/6',
	'/jobs/8/cause',
	'/jobs/9/plugs',
	'/jobs/9/cylinders',
	'/jobs/3/fuel',
	'/jobs/9/fuel',
	'/planner',
	'/ways',
	'/practice',
	'/findings',
	'/parts',
	'/jobs/10/ladder',
	'/jobs/3/advice',
	'/jobs/3/compare',
	'/jobs/3/compare-logs',
	'/jobs/3/vehicle/injectors',
	'/jobs/3/evidence',
	'/jobs/3/revisions/4',
	'/jobs/3/revisions/5',
	'/jobs/3/revisions/5/release',
	'/jobs/3/revisions/5/replay',
	'/jobs/3/summary',
	'/jobs/3/tables',
	'/jobs/1/plan?template=full-throttle&cap=120',
	'/jobs/1/vehicle',
	'/jobs/1/limits',
	'/jobs/6/maxima',
	'/jobs/1/inspection',
	'/customers',
	'/customers/1',
	'/layouts',
	'/layouts/1/kit',
	'/team',
	'/mail',
	'/server'
];
/** Pages that list every limit in the unit that it is kept in beside the reader's, or nothing that has a unit. */
const UNITS_ELSEWHERE = new Set([
	'/jobs/new',
	'/jobs/1/vehicle',
	'/jobs/1/limits',
	'/jobs/3/tables',
	'/layouts'
]);

// The longest of all, and the last by its name: side by side, so that no core waits for the other.
test.describe.configure({ mode: 'parallel' });

const main = (page: Page) => page.locator('main').innerText();

/** Faults of the page that stands, each with its first places. @param rules all of the standard's, or the named ones */
async function faults(page: Page, rules: { runOnly: string[] | { type: 'rule'; values: string[] } }) {
	await page.evaluate(axe);
	return page.evaluate(async (options) => {
		interface Axe {
			run(o: object): Promise<{ violations: { id: string; nodes: { html: string }[] }[] }>;
		}
		const { violations } = await (window as unknown as { axe: Axe }).axe.run(options);
		return violations.map(({ id, nodes }) => {
			const places = nodes.slice(0, 3).map((n) => n.html.slice(0, 160));
			return `${id}: ${places.join(' | ')}`;
		});
	}, rules);
}

/** Widths between which a page is used on a desk: at neither end anything scrolls sideways, or the head of the page wraps. */
const WIDTHS = [1100, 1920, 1280];
const HEAD_PX = 68;

/** What is wrong with the page at a width; empty where nothing is. */
async function crampedAt(page: Page): Promise<string[]> {
	const out: string[] = [];
	for (const width of WIDTHS) {
		await page.setViewportSize({ width, height: 800 });
		// Pictures are drawn anew for the width a moment after it changed.
		await page
			.waitForFunction(
				() => document.documentElement.scrollWidth <= document.documentElement.clientWidth,
				null,
				{
					timeout: 3000
				}
			)
			.catch(() => undefined);
		const { over, head } = await page.evaluate(() => ({
			over: document.documentElement.scrollWidth - document.documentElement.clientWidth,
			head: document.querySelector('.page-head .line')?.getBoundingClientRect().height ?? 0
		}));
		if (over > 0) out.push(`${over} px too wide at ${width}`);
		if (head > HEAD_PX) out.push(`its head wraps at ${width}`);
	}
	return out;
}

const IDS = [...ITEMS.map((i) => i.id as string), ...CODES, ...CHANNELS.keys()]
	.filter((id) => id.includes('.'))
	.map((id) => [id, new RegExp(`(?<![\\w.-])${id.replaceAll('.', '\\.')}(?![\\w.-])`)] as const);
const UNITS: UnitChoice = {
	mixture: 'afr-petrol',
	pressure: 'psi',
	temperature: '°F',
	speed: 'mph',
	power: 'hp',
	gauge: true
};

/** A browser of somebody who reads psi, °F, mph and AFR, by day until the night is asked for. */
async function reader(browser: Browser, baseURL: string) {
	const context = await browser.newContext({ colorScheme: 'light', bypassCSP: true });
	await context.addCookies([
		{ name: 'units', value: encodeURIComponent(JSON.stringify(UNITS)), url: baseURL }
	]);
	return { context, page: await context.newPage() };
}

/** Lines of the page in units that this reader doesn't read; what the customer wrote stands as it was written. */
async function foreignUnits(page: Page, path: string): Promise<string[]> {
	if (UNITS_ELSEWHERE.has(path)) return [];
	const said = page.getByLabel('Said with the log');
	const quoted = (await said.count()) ? await said.innerText() : '';
	return (await main(page))
		.replace(quoted, '')
		.split('\n')
		.filter((line) => /\d\s?(kPa|°C|km\/h)|λ\s?\d/.test(line));
}

// Every other page in each: two that take as long, side by side.
for (const half of [0, 1])
	test(`no page has a fault of accessibility by day or night, scrolls sideways, shows an id or another reader’s unit (${half + 1} of 2)`, async ({
		browser,
		baseURL
	}) => {
		test.setTimeout(360_000);
		const { context, page } = await reader(browser, baseURL!);
		for (const path of PAGES.filter((_, i) => i % 2 === half)) {
			await page.emulateMedia({ colorScheme: 'light' });
			await openWhole(page, path);
			// WCAG 2.0, levels A and AA, by the rules of axe-core.
			expect(await faults(page, { runOnly: ['wcag2a', 'wcag2aa'] }), path).toEqual([]);
			expect(await crampedAt(page), path).toEqual([]);
			const text = await main(page);
			expect(
				IDS.filter(([, pattern]) => pattern.test(text)).map(([id]) => id),
				path
			).toEqual([]);
			expect(await foreignUnits(page, path), path).toEqual([]);
			await page.emulateMedia({ colorScheme: 'dark' });
			expect(
				await faults(page, { runOnly: { type: 'rule', values: ['color-contrast'] } }),
				`${path} at night`
			).toEqual([]);
		}
		await context.close();
	});

test('the vehicle sheet is written in psi, and kept in kPa (1 psi = 6.894757 kPa, NIST SP 811)', async ({
	browser,
	baseURL
}) => {
	const { context, page } = await reader(browser, baseURL!);
	await open(page, '/jobs/1/vehicle');
	const rated = page.getByLabel('rated at, psi');
	await expect(rated).toHaveValue('43.51');
	await rated.fill('44');
	await expect(rated).toHaveValue('44');
	await expect(page.locator('input[name="injectors.ratedPressureKpa"]')).toHaveValue('303.369');
	await context.close();
});
