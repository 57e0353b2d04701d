/** A draft by hand: settings, axes, whole files, the log over the table; replies that are no calibration; the interface for programs. */
import type { Page } from '@playwright/test';
import { parseCalibration } from '../../src/core/calibration/document.ts';
import { arrived, customerLink, edit, expect, more, open, phone, pickItem, test } from './page.ts';

test.describe.configure({ mode: 'serial' });

const item = (page: Page, name: string) =>
	page.getByRole('navigation', { name: 'Items of the calibration' }).getByRole('button', { name });
const saved = (page: Page) => expect(page.locator('[data-saving=saved]')).toBeVisible();
const columns = (page: Page) => page.getByRole('grid').getByRole('row').first().getByRole('columnheader');

async function draftOfJob4(page: Page): Promise<void> {
	await open(page, '/jobs/4/revisions/6');
	await page.getByRole('button', { name: 'Start a draft from it' }).click();
	await arrived(page, (url) => !url.pathname.endsWith('/6'));
}

test('settings and axes of a draft: checked, undone, kept with their reasons', async ({ page }) => {
	await draftOfJob4(page);
	await pickItem(page, 'Trigger offset');
	await page.getByLabel('New value').fill('eighty');
	await page.getByLabel('Reason').fill('checked with the timing light');
	await page.getByRole('button', { name: 'Set', exact: true }).click();
	await expect(page.getByRole('alert')).toContainText('Trigger offset is a number');
	await page.getByLabel('New value').fill('80,5');
	await page.getByRole('button', { name: 'Set', exact: true }).click();
	await expect(page.getByText('→ 80.5')).toBeVisible();
	await pickItem(page, 'Volumetric efficiency');
	await expect(columns(page)).toHaveCount(18);
	await edit(page, 'Axes');
	const across = page.getByLabel('Engine speed, rpm across');
	const all = (await across.inputValue()).split(' ');
	await across.fill(`${all[3]} ${all[1]}`);
	await expect(page.getByRole('alert')).toContainText('points of the x axis have to rise');
	// Every second point goes: how much that changes is said before it is done.
	await across.fill(all.filter((_, i) => i % 2 === 0).join(' '));
	await expect(page.getByTestId('surface-change')).toContainText(/8 taken away.*changes by at most.*%/);
	await page.getByLabel('Reason', { exact: true }).fill('the controller takes nine columns');
	await page.getByRole('button', { name: 'Put the table on these axes' }).click();
	await expect(columns(page)).toHaveCount(10);
	await page.getByRole('button', { name: 'Undo' }).click();
	await expect(columns(page)).toHaveCount(18);
	await page.getByRole('button', { name: 'Redo' }).click();
	await expect(columns(page)).toHaveCount(10);
	await page.getByRole('button', { name: 'As pressure ratio' }).click();
	await expect(page.getByTestId('surface-change')).toContainText('at a barometer of');
	await page.getByRole('button', { name: 'Drop' }).click();
	await saved(page);
	await page.reload();
	await expect(columns(page)).toHaveCount(10);
	// The steps live through a reload.
	await page.getByRole('button', { name: 'Undo' }).click();
	await expect(columns(page)).toHaveCount(18);
	await page.getByRole('button', { name: 'Redo' }).click();
	await expect(columns(page)).toHaveCount(10);
	await saved(page);
	await page.getByRole('button', { name: 'Review release' }).click();
	const notes = page.getByLabel(/What the customer reads/);
	await expect(notes).toHaveValue(/Trigger offset: now 80\.5\.[\s\S]*on other axes\./);
	// The reasons are for the record: the customer reads what changed.
	expect(await notes.inputValue()).not.toMatch(/timing light|nine columns/);
	await page.goBack();
	await arrived(page);
	await pickItem(page, 'Trigger offset');
	await expect(page.getByText('checked with the timing light')).toBeVisible();
});

test('a table as CSV and a whole calibration are taken over; a broken file changes nothing', async ({
	page
}) => {
	await open(page, '/jobs/4');
	await page
		.getByRole('link', { name: /draft R2|R2/ })
		.first()
		.click();
	await arrived(page, /\/revisions\/\d+$/);
	await pickItem(page, 'Volumetric efficiency');
	const file = (name: string, text: string) =>
		page.getByLabel('Take over values from a file').setInputFiles({
			name,
			mimeType: 'text/plain',
			buffer: Buffer.from(text)
		});
	await file('broken.csv', ',1000,2000\n40,70,x\n');
	await expect(page.getByRole('alert')).toContainText('"x" is not a number');
	await expect(page.getByRole('alert')).toContainText('Nothing was taken over');
	await expect(columns(page)).toHaveCount(10);
	await file('small.csv', ',1000,3000,6000\n40,70,80,75\n100,80,95,85\n');
	await expect(page.getByRole('status').filter({ hasText: '6 cells differ' })).toContainText('on other axes');
	await expect(columns(page)).toHaveCount(4);
	await expect(page.getByRole('gridcell').first()).toHaveText('80.00');
	await saved(page);
	// The same draft as a file, with one more change and an item that the revision doesn't know.
	const number = Number(page.url().split('/').at(-1));
	const answer = await page.request.get(`/api/v1/revisions/${number}/calibration`);
	const own = parseCalibration(JSON.parse(await answer.text()));
	const limit = own.items.find((i) => i.id === 'limit.rpm');
	if (limit?.kind !== 'scalar') throw new Error('no rev limit');
	limit.value -= 200;
	own.items.push({ id: 'new.thing', kind: 'scalar', value: 1 });
	await file('bench.json', JSON.stringify(own));
	await expect(page.getByRole('status').filter({ hasText: '1 item added' })).toBeVisible();
	await expect(page.getByRole('button', { name: 'new.thing' })).toBeVisible();
	await pickItem(page, 'Rev limit');
	await expect(page.getByText(`→ ${limit.value}`)).toBeVisible();
	// Programs get the same: the comparison with the revision before, and the description of it all.
	await saved(page);
	const comparison = await (await page.request.get(`/api/v1/revisions/${number}/compare?with=6`)).json();
	expect(comparison.changes.map((c: { item: string }) => c.item)).toEqual(
		expect.arrayContaining(['fuel.table', 'limit.rpm', 'trigger.offset'])
	);
	expect(comparison.guards.map((g: { item: string }) => g.item)).toContain('trigger.offset');
	const described = await (await page.request.get('/api/v1/openapi.json')).json();
	expect(described.paths['/revisions/{rev}/compare'].get.summary).toContain('against another');
	await more(page, 'Discard draft');
	await page.getByRole('button', { name: 'Discard the draft' }).click();
	await page.waitForURL('/jobs/4');
});

test('proposals by region, the log over the table, the surface', async ({ page }) => {
	await open(page, '/jobs/4/logs/5');
	const propose = page.getByRole('button', { name: 'Propose next revision' });
	await propose.click();
	await arrived(page, /\/revisions\/\d+$/);
	// What would come out of all of it, before anything is accepted.
	await page.getByRole('link', { name: /What R0, .* would be with all of it/ }).click();
	await expect(page.getByRole('heading', { level: 1 })).toContainText('and all that is proposed');
	await expect(page.getByTestId('left')).toContainText('3 %');
	await page.goBack();
	await arrived(page);
	await expect(page.getByRole('button', { name: 'Review release' })).toBeDisabled();
	await page.getByRole('button', { name: 'Overlay log' }).click();
	await expect(page.getByText(/Where R0, .* drove/)).toBeVisible();
	const grid = page.getByRole('grid');
	await grid.getByRole('gridcell').nth(60).click();
	await expect(page.getByText(/required [+−-][\d.]+ %|not driven/).first()).toBeVisible();
	await page.getByRole('button', { name: 'Surface' }).click();
	const surface = page.getByRole('img', { name: /as a surface/ });
	await expect(surface).toBeVisible();
	const picture = () => surface.locator('canvas').evaluate((c: HTMLCanvasElement) => c.toDataURL().length);
	const before = await picture();
	await surface.focus();
	await page.keyboard.press('ArrowRight');
	await expect.poll(picture).not.toBe(before);
	await page.getByRole('button', { name: 'By region' }).click();
	const first = page
		.getByRole('list', { name: /Regions of/ })
		.getByRole('listitem')
		.first();
	const cells = /(\d+) cell/.exec(await first.innerText())![1]!;
	await first.getByRole('button', { name: 'Accept' }).click();
	await expect(item(page, 'Volumetric efficiency')).toContainText(cells);
	const api = await page.request.post('/api/v1/logs/5/proposal', { data: { maxPct: 10 } });
	expect((await api.json()).changes).toBeInstanceOf(Array);
	await more(page, 'Discard draft');
	await page.getByRole('button', { name: 'Discard the draft' }).click();
	await page.waitForURL('/jobs/4');
});

test('advice without a file reaches the customer as the one thing to do next', async ({ page, browser }) => {
	const link = await customerLink(page, 4);
	await open(page, '/jobs/4/logs/5');
	await page.getByRole('link', { name: 'Send advice' }).click();
	await page.getByRole('radio', { name: 'a repair' }).check();
	const words = page.getByLabel('To the customer');
	await expect(words).toHaveValue(/No new file this time: this has to be put right/);
	await words.fill('');
	await page.getByRole('button', { name: 'Send the advice' }).click();
	await expect(page.getByRole('alert')).toContainText('write what the customer should do');
	await words.fill('Tighten the clamp behind the throttle, then send a log.');
	await page.getByRole('button', { name: 'Send the advice' }).click();
	await page.waitForURL('/jobs/4');
	await expect(page.getByText('Advice: a repair')).toBeVisible();
	const { page: customer, close } = await phone(browser);
	await customer.goto(link);
	const advice = customer.getByRole('region', { name: 'Advice from your tuner' });
	await expect(advice).toContainText('Next: Have this put right');
	await expect(advice).toContainText('Tighten the clamp');
	await close();
});

test('slips by hand beside two logs; times that do not follow are refused', async ({ page }) => {
	await open(page, '/jobs/3/compare-logs?a=3&b=4');
	const gain = page.getByRole('region', { name: 'Power and torque' });
	await expect(gain).toContainText('worked out from the road');
	await expect(gain.getByRole('table', { name: 'Peaks' })).toContainText('Torque, Nm');
	expect(
		await gain.getByRole('table', { name: 'Gain by engine speed' }).getByRole('row').count()
	).toBeGreaterThan(4);
	await page.getByRole('button', { name: 'Enter a slip' }).click();
	await page.getByRole('textbox', { name: 'Run' }).fill('second run');
	await page.getByLabel('60 ft, s').fill('2,05');
	await page.getByLabel('1/4 mile, s').fill('1.9');
	await page.getByRole('button', { name: 'Save slip' }).click();
	await expect(page.getByRole('alert')).toContainText(
		'1.9 s to the 1/4 mile is not after 2.05 s to the 60 ft'
	);
	await page.getByLabel('1/4 mile, s').fill('13.50');
	await page.getByRole('button', { name: 'Save slip' }).click();
	const row = page.getByRole('table', { name: 'Timeslips' }).getByRole('row', { name: /second run/ });
	await expect(row).toContainText('2.05');
	await expect(row).toContainText('13.50');
	await row.getByRole('button', { name: 'Remove second run' }).click();
	await expect(row).toHaveCount(0);
});
