/** What people read: titles instead of ids, and the units that they chose, on every page. */
import { CHANNELS } from '../../src/core/channels/canonical.ts';
import { ITEMS } from '../../src/core/calibration/items.ts';
import { CODES } from '../../src/core/screening/codes.ts';
import type { UnitChoice } from '../../src/core/units/display.ts';
import { ADDRESS, expect, open, test } from './page.ts';

const PAGES = [
	'/',
	'/jobs/1',
	'/jobs/1/logs/1',
	'/jobs/2/logs/2',
	'/jobs/5/logs/6',
	'/jobs/1/logs/1/readiness',
	'/jobs/2/logs/2/knock',
	'/jobs/1/logs/1/sensors',
	'/jobs/1/logs/1/cylinders',
	'/jobs/4/logs/5/delivered',
	'/jobs/3/revisions/4',
	'/jobs/3/compare',
	'/jobs/3/evidence',
	'/jobs/3/summary',
	'/jobs/1/plan?template=full-throttle&cap=120',
	'/jobs/1/inspection',
	'/jobs/8/cause',
	'/jobs/9/plugs',
	'/jobs/9/cylinders',
	'/jobs/3/fuel',
	'/jobs/3/logs/4/readiness',
	'/jobs/10/ladder',
	'/customers/1'
];
const main = (page: { locator: (s: string) => { innerText: () => Promise<string> } }) =>
	page.locator('main').innerText();

test('no page shows the id of an item, a check or a channel', async ({ page }) => {
	const ids = [...ITEMS.map((i) => i.id as string), ...CODES, ...CHANNELS.keys()].filter((id) =>
		id.includes('.')
	);
	for (const path of PAGES) {
		await open(page, path);
		const text = await main(page);
		const shown = ids.filter((id) =>
			new RegExp(`(?<![\\w.-])${id.replaceAll('.', '\\.')}(?![\\w.-])`).test(text)
		);
		expect(shown, path).toEqual([]);
	}
});

test('a reader of psi, °F, mph and AFR finds no kPa, °C, km/h or λ', async ({ browser, signedIn }) => {
	const units: UnitChoice = {
		mixture: 'afr-petrol',
		pressure: 'psi',
		temperature: '°F',
		speed: 'mph',
		power: 'hp',
		gauge: true
	};
	const context = await browser.newContext({ baseURL: ADDRESS, storageState: signedIn });
	await context.addCookies([
		{ name: 'units', value: encodeURIComponent(JSON.stringify(units)), url: ADDRESS }
	]);
	const page = await context.newPage();
	const found: string[] = [];
	for (const path of PAGES) {
		await open(page, path);
		// What the customer wrote stands as it was written.
		const said = page.getByLabel('Said with the log');
		const quoted = (await said.count()) ? await said.innerText() : '';
		// A cell is named by the axes of its table, which keep the unit of the program that it stands in.
		const text = (await main(page))
			.replace(quoted, '')
			.replace(/timing cell \d+ rpm \/ [\d.]+ kPa|ends at [\d.]+ kPa/g, '');
		found.push(
			...text
				.split('\n')
				.filter((line) => /\d\s?(kPa|°C|km\/h)|λ\s?\d/.test(line))
				.map((line) => `${path}: ${line}`)
		);
	}
	expect(found).toEqual([]);
	// The vehicle sheet is written in psi, and kept in kPa (1 psi = 6.894757 kPa, NIST SP 811).
	await open(page, '/jobs/1/vehicle');
	const rated = page.getByLabel('rated at, psi');
	await expect(rated).toHaveValue('43.51');
	await rated.fill('44');
	await expect(rated).toHaveValue('44');
	await expect(page.locator('input[name="injectors.ratedPressureKpa"]')).toHaveValue('303.369');
	await context.close();
});
