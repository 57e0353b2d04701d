/** Taking a job on and looking at what came: vehicle, limits, units that are asked, spans, lanes, exports. */
import { readFileSync } from 'node:fs';
import { readLog } from '../../src/core/logfile/read.ts';
import { pullShapes } from '../../src/core/testing/hand-made.ts';
import { arrived, expect, open, pick, tab, test } from './page.ts';

const file = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });

test('customers, vehicles and jobs are found by any of their words', async ({ page }) => {
	await open(page, '/customers');
	await page.getByRole('searchbox').fill('marl abel');
	await expect(page.getByRole('status')).toContainText('1 found');
	await expect(page.getByRole('row', { name: /Jon Abel/ })).toBeVisible();
	await page.getByRole('searchbox').fill('nobody of this name');
	await expect(page.getByText('Nobody and nothing is called')).toBeVisible();
});

test('a vehicle starts from a kind, says what waits for its facts, and is copied as a template', async ({
	page
}) => {
	await open(page, '/jobs/new');
	await page.getByLabel('Start from a kind').selectOption('V6, turbo, port injection');
	await expect(page.getByLabel('Cylinders by bank')).toHaveValue('1 3 5 / 2 4 6');
	const waiting = page.getByLabel("What can't be checked without it");
	await expect(waiting).toContainText('an air leak at idle');
	await page.getByLabel('Manifold pressure at idle, kPa').fill('38');
	await expect(waiting).not.toContainText('an air leak at idle');
	await page.getByLabel('or copy a vehicle').selectOption('Hesper Drover 5.7 tow');
	await expect(page.getByLabel('Displacement, l')).toHaveValue('5.7');
	await expect(page.getByLabel('Vehicle · needed')).toHaveValue('');
});

test('a changed vehicle and changed limits judge its logs anew', async ({ page }) => {
	await open(page, '/jobs/5/vehicle');
	await page.getByLabel('Gear ratios').fill('3.4 fast');
	await page.getByRole('button', { name: 'Save the vehicle' }).click();
	await expect(page.getByRole('alert')).toContainText('"fast" is not a number');
	await page.getByLabel('Gear ratios').fill('3.4 2.1 1.45 1.1 0.86 0.7');
	await page.getByRole('button', { name: 'Save the vehicle' }).click();
	await expect(page.getByRole('status')).toContainText('Saved');
	await open(page, '/jobs/5/limits');
	await page.getByLabel('injector duty: watch').fill('40');
	await page.getByLabel('injector duty: fix').fill('45');
	await page.getByRole('button', { name: 'Save the limits' }).click();
	await expect(page.getByRole('row', { name: /injector duty.*changed/ })).toBeVisible();
	await open(page, '/jobs/5/logs/6');
	await expect(page.locator('article', { hasText: 'Injector' }).first()).toBeVisible();
});

test('what two units fit is asked with both readings, and the answer is kept', async ({ page }) => {
	const rows = Array.from({ length: 400 }, (_, i) => `${i / 20},${2000 + i},60,20,1.0,${138 + (i % 4)}`).join(
		'\n'
	);
	const text = (n: number) =>
		`Time,Engine RPM,MAP (kPa),Throttle,Lambda,Coolant\n${rows.replaceAll('2000', String(n))}\n`;
	await open(page, '/jobs/4');
	await page.locator('input[type=file]').setInputFiles(file('unitless.csv', text(2000)));
	await page.locator('a.button[title="unitless.csv"]').click();
	const asked = page.getByLabel('Readings to decide');
	await expect(asked).toContainText('°C: 138 to 141');
	await expect(asked.getByRole('button', { name: /°F: 59 to 61/ })).toBeVisible();
	await asked.getByRole('button', { name: /°F/ }).click();
	await expect(asked).toHaveCount(0);
	await open(page, '/jobs/4');
	await page.locator('input[type=file]').setInputFiles(file('unitless2.csv', text(2001)));
	await page.locator('a.button[title="unitless2.csv"]').click();
	await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
	await expect(page.getByLabel('Readings to decide')).toHaveCount(0);
	// Every conversion can be taken back.
	await tab(page, 'Channels');
	await expect(page.getByLabel('Unit that Coolant is read in')).toHaveValue('°F');
	await page.getByLabel('Unit that Coolant is read in').selectOption('°C');
	await expect(page.getByRole('row', { name: /Coolant.*assigned by hand/ })).toBeVisible();
});

test('a span has its lowest, mean and highest, and goes out in the units of choice', async ({ page }) => {
	const shapes = pullShapes();
	const rows = Array.from({ length: 800 }, (_, i) => {
		const t = i / 20;
		return [t, ...['rpm', 'map', 'tps', 'lambda.b1', 'ect'].map((id) => shapes[id]!(t))].join(',');
	});
	await open(page, '/jobs/4');
	await page
		.locator('input[type=file]')
		.setInputFiles(file('span.csv', `time,rpm,map,tps,lambda.b1,ect\n${rows.join('\n')}\n`));
	await page.locator('a.button[title="span.csv"]').click();
	const traces = page.locator('section[aria-label="Traces"]');
	await expect(traces).toHaveAttribute('data-ready', 'true');
	const asked: string[] = [];
	page.on('request', (r) => void asked.push(new URL(r.url()).pathname));
	await page.keyboard.press('s');
	await expect(traces.getByRole('status')).toContainText('Span');
	// 10 to 30 s of 40: the pull from 2500 to 6500 rpm in six of twenty seconds.
	await expect(traces.getByTitle('lowest, mean, highest in the span').first()).toHaveText(
		/2500 \/ 3\d\d\d \/ 6[45]\d\d/
	);
	// The figures of the span are asked for, not the traces again; moving the window asks for traces, not for the figures again.
	const times = (what: string) => asked.filter((path) => path.endsWith(what)).length;
	expect([times('/stats'), times('/trace')]).toEqual([1, 0]);
	await page.keyboard.press('+');
	await expect.poll(() => times('/trace')).toBe(1);
	expect(times('/stats')).toBe(1);
	await page.keyboard.press('0');
	await page.getByRole('button', { name: /Units and theme/ }).click();
	await page.getByLabel('Pressure', { exact: true }).selectOption('psi');
	await page.keyboard.press('Escape');
	const [download] = await Promise.all([
		page.waitForEvent('download'),
		traces.getByRole('link', { name: 'CSV' }).click()
	]);
	expect(download.suggestedFilename()).toBe('span-10s-30s.csv');
	const text = readFileSync(await download.path());
	expect(text.toString('utf8').split('\n')[0]).toBe('time,rpm,map [psi],tps,lambda.b1,ect');
	const log = readLog([text], { gaugeStoich: 14.7, baroKpa: 101.3 });
	const map = log.channels.find((c) => c.id === 'map')!;
	expect(Math.max(...map.values)).toBeCloseTo(170, 2);
	expect(log.channels[0]!.timeS[0]).toBe(0);
	expect(log.durationS).toBeCloseTo(20, 0);
});

test('lanes chosen by hand stay with the tuner; an earlier log lies behind', async ({ page }) => {
	await open(page, '/jobs/3/logs/4');
	const traces = page.locator('section[aria-label="Traces"]');
	await traces.getByRole('button', { name: 'Mine' }).click();
	await traces.getByRole('checkbox', { name: 'Battery' }).check();
	await traces.getByRole('checkbox', { name: 'Engine speed', exact: true }).check();
	await expect(traces.getByRole('img')).toHaveAttribute('aria-label', /Battery/);
	await pick(traces.getByLabel('Earlier log behind'), /^R0, /);
	// The line behind carries the name of its log.
	await expect(traces.locator('span', { hasText: /^\s*R0, \d+ \w+/ }).first()).toBeVisible();
	await page.reload();
	await arrived(page);
	await traces.getByRole('button', { name: 'Mine' }).click();
	await expect(traces.getByRole('checkbox', { name: 'Battery' })).toBeChecked();
});

test('what was typed and not saved is asked about before the page is left', async ({ page }) => {
	await open(page, '/jobs/1/vehicle');
	const name = page.locator('input[name="name"]');
	const before = await name.inputValue();
	await name.fill(`${before}, changed`);
	let asked = '';
	page.once('dialog', (d) => {
		asked = d.message();
		void d.dismiss();
	});
	await page.getByRole('link', { name: 'Customers' }).first().click();
	await expect.poll(() => asked).toContain('isn’t saved');
	await expect(page).toHaveURL(/\/vehicle$/);
	await expect(name).toHaveValue(`${before}, changed`);
	page.once('dialog', (d) => void d.accept());
	await page.getByRole('link', { name: 'Customers' }).first().click();
	await expect(page).toHaveURL(/\/customers$/);
	// Nothing is asked where nothing was typed.
	await open(page, '/jobs/1/vehicle');
	await page.getByRole('link', { name: 'Customers' }).first().click();
	await expect(page).toHaveURL(/\/customers$/);
});
