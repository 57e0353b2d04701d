/** The calibration's side by the interface: from verdict to sent by keys alone, replay, holds, comparison, what the customer confirms. */
import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { parseCalibration } from '../../src/core/calibration/document.ts';
import { fromCdf } from '../../src/core/calibration/formats/cdf.ts';
import { arrived, customerLink, expect, more, open, phone, test } from './page.ts';

/** Presses keys with the pace of the page: each waits for what it leads to. */
async function tabTo(page: Page, name: RegExp): Promise<void> {
	for (let i = 0; i < 80; i++) {
		const text = await page.evaluate(() => {
			const e = document.activeElement as HTMLElement | null;
			if (!e || e === document.body) return '';
			return `${e?.getAttribute('aria-label') ?? ''} ${e?.closest('label')?.textContent ?? ''} ${e?.textContent ?? ''}`;
		});
		if (name.test(text)) return;
		await page.keyboard.press('Tab');
	}
	throw new Error(`no way to ${name} by the tab key`);
}

test.describe.configure({ mode: 'serial' });

test('from verdict to sent by keys alone', async ({ page }) => {
	await open(page, '/jobs/4/logs/5');
	await expect(page.getByTestId('verdict')).toContainText('To fix');
	// r proposes, a accepts, v replays, g goes back, c compares, r goes to the release.
	await page.keyboard.press('r');
	await arrived(page, /\/revisions\/\d+$/);
	await page.keyboard.press('a');
	await expect(page.locator('[data-saving=saved]')).toBeVisible();
	await expect(page.getByRole('button', { name: 'Review release' })).toBeEnabled();
	await page.keyboard.press('v');
	await arrived(page, /\/replay/);
	await expect(page.getByTestId('left')).toContainText(/3 %/);
	await page.keyboard.press('g');
	await arrived(page, /\/revisions\/\d+$/);
	await page.keyboard.press('c');
	await arrived(page, /\/compare/);
	await expect(page.getByRole('heading', { level: 1 })).toContainText('R2 against R1');
	await page.keyboard.press('r');
	await arrived(page, /\/release$/);
	// The message is written already; every hold gets its reason.
	await expect(page.getByLabel(/What the customer reads/)).not.toHaveValue('');
	const holds = await page.locator('input[name^="hold:"]').count();
	expect(holds).toBeGreaterThan(0);
	await tabTo(page, /Why it may go out/);
	await page.keyboard.type('the lean top end is what this revision corrects, see the replay');
	if (holds > 1) {
		await tabTo(page, /Give the first reason to all/);
		await page.keyboard.press('Enter');
	}
	await tabTo(page, /^\s*Release R2/);
	await page.keyboard.press('Enter');
	await expect(page.getByRole('button', { name: 'Send R2' })).toBeFocused();
	await page.keyboard.press('Enter');
	await expect(page.getByText('R2 sent, not confirmed').first()).toBeVisible();
	await expect(
		page
			.getByRole('heading', { name: /R2 is ready/ })
			.or(page.getByText('R2 is ready for your car'))
			.first()
	).toBeVisible();
});

test('a released revision shows the reasons it went out over, and is downloaded in three forms', async ({
	page
}) => {
	await open(page, '/jobs/4');
	await page.getByRole('link', { name: /\bR2 / }).first().click();
	await page.getByText(/Released over \d+ hold/).click();
	await expect(page.getByText('the lean top end is what this revision corrects').first()).toBeVisible();
	const get = async (name: string) => {
		const [download] = await Promise.all([page.waitForEvent('download'), more(page, `Download ${name}`)]);
		return readFileSync(await download.path(), 'utf8');
	};
	const json = parseCalibration(JSON.parse(await get('JSON')));
	expect(fromCdf(await get('CDF'))).toEqual(json);
	expect(await get('CSV')).toContain('fuel.table\n,500,');
});

test('the customer says that it is in the car; a withdrawn revision is called back', async ({
	page,
	browser
}) => {
	const link = await customerLink(page, 4);
	const { page: customer, close } = await phone(browser);
	await customer.goto(link);
	await arrived(customer);
	await customer.getByRole('button', { name: 'R2 is in the car now' }).click();
	await expect(customer.getByText('You said that R2 is in the car')).toBeVisible();
	await open(page, '/jobs/4');
	await page.getByRole('link', { name: /\bR2 / }).first().click();
	await expect(page.getByText(/In the car, says Pell/)).toBeVisible();
	await page.getByLabel('Why it is withdrawn').fill('short');
	await page.getByRole('button', { name: 'Withdraw R2' }).click();
	await expect(page.getByRole('alert')).toContainText('write why');
	await page.getByLabel('Why it is withdrawn').fill('made from a log with a doubtful sensor');
	await page.getByRole('button', { name: 'Withdraw R2' }).click();
	await expect(page.getByText(/Withdrawn by Sable Orrin/)).toBeVisible();
	await customer.reload();
	await expect(customer.getByRole('alert')).toContainText("Don't drive on R2");
	await expect(customer.getByRole('link', { name: /Tables of R2/ })).toHaveCount(0);
	// The one before is what belongs into the car again, and can be confirmed anew.
	await expect(customer.getByText('Put R1 back into the car.')).toBeVisible();
	await customer.getByRole('button', { name: 'R1 is in the car now' }).click();
	await expect(customer.getByText('You said that R1 is in the car')).toBeVisible();
	await close();
});

test('banks that disagree: nothing is proposed, the stop-gap is offered and never taken by itself', async ({
	page
}) => {
	await open(page, '/jobs/1/logs/1');
	await more(page, 'How proposals are made');
	await page.getByLabel('of what is missing is added, %').fill('400');
	await page.getByRole('button', { name: 'Propose next revision' }).click();
	await expect(page.getByRole('alert')).toContainText('addShare');
	await page.getByLabel('of what is missing is added, %').fill('100');
	await page.getByRole('button', { name: 'Propose next revision' }).click();
	await expect(page.getByRole('region', { name: 'Holds' })).toContainText('find the cause first');
	const gap = page.getByRole('region', { name: 'Stop-gap' });
	await expect(gap).toContainText('what the leaner bank wants');
	await expect(page.getByRole('button', { name: 'Review release' })).toBeDisabled();
	await gap.getByRole('button', { name: /Take the stop-gap/ }).click();
	await expect(page.locator('[data-saving=saved]')).toBeVisible();
	await page.getByRole('button', { name: 'Review release' }).click();
	// Only richer: it gets through, whatever stands.
	await expect(page.getByText('only makes things safer, so it gets through')).toBeVisible();
	await page.getByRole('link', { name: 'Back to the draft' }).click();
	// The grid's tools: fill, smooth and blend are steps like any other, undone one by one.
	const grid = page.getByRole('grid');
	await grid.focus();
	await page.keyboard.press('Shift+ArrowRight');
	await page.keyboard.press('Shift+ArrowRight');
	await page.keyboard.type('=90');
	await page.keyboard.press('Enter');
	await page.keyboard.press('b');
	await expect(page.locator('#cell-3-0')).not.toHaveText('90.00');
	await page.keyboard.press('s');
	await page.keyboard.press('Control+z');
	await page.keyboard.press('Control+z');
	await page.keyboard.press('Control+z');
	await page.getByRole('button', { name: 'Lines' }).click();
	await expect(page.getByRole('img', { name: /Rows of the table as lines/ })).toBeVisible();
	await more(page, 'Discard draft');
	await page.getByRole('button', { name: 'Discard the draft' }).click();
});

test('comparison across jobs and with a file; its report; two logs side by side', async ({
	page,
	request
}) => {
	await open(page, '/jobs/3/compare?a=3&b=4');
	await page
		.getByRole('combobox', { name: 'After', exact: true })
		.selectOption({ label: 'R0 of Marl: knock at the top on pump fuel' });
	await expect(page.getByRole('heading', { level: 1 })).toContainText('R0 of Marl');
	await expect(page.getByRole('region', { name: 'Guards' })).toBeVisible();
	const file = JSON.parse(await (await request.get('/api/v1/revisions/3/calibration')).text()) as {
		items: { id: string; kind: string; value?: number }[];
	};
	for (const i of file.items) if (i.id === 'limit.rpm') i.value = (i.value ?? 0) + 200;
	await open(page, '/jobs/3/compare?a=3&b=4');
	await page.getByLabel(/or a file after R0/).setInputFiles({
		name: 'from-disk.json',
		mimeType: 'application/json',
		buffer: Buffer.from(JSON.stringify(file))
	});
	await expect(page.getByRole('heading', { level: 1 })).toContainText(
		'from-disk.json against R0: 1 item differs, 1 riskier'
	);
	await expect(page.getByRole('navigation', { name: 'Differences' })).toContainText('rev limit raised');
	await page.getByLabel(/or a file after R0/).setInputFiles({
		name: 'broken.xml',
		mimeType: 'text/xml',
		buffer: Buffer.from('<MSRSW><A></MSRSW>')
	});
	await expect(page.getByRole('alert')).toContainText('broken.xml');
	const report = await (await request.get('/api/v1/revisions/4/report?from=3')).text();
	expect(report.split('\n')[0]).toBe('item,class,rule,x,y,old,new,difference,percent,reason');
	expect(report).toContain('fuel.table,');
	// Two logs of the timeline: their pulls over each other.
	await page.getByRole('button', { name: 'Compare', exact: true }).click();
	await page.getByRole('button', { name: /^Compare R0, / }).click();
	await page.getByRole('button', { name: /^Compare R1, / }).click();
	await expect(page.getByRole('heading', { level: 1 })).toContainText(/R1, .* against R0, /);
	await expect(page.getByTestId('by-rpm')).toContainText('3000–3500');
	await expect(page.getByRole('region', { name: 'Power from the road' })).toContainText(/kW, \d+ Nm/);
	await page.getByLabel('Quantity').selectOption('spark');
	await expect(page.getByTestId('by-rpm')).toContainText('difference, °');
});

test('the summary of a job: log by log, revision by revision, and the job is completed with a word', async ({
	page
}) => {
	await open(page, '/jobs/3/summary');
	await expect(page.getByRole('row', { name: /^R0, / })).toContainText('R0');
	await expect(page.getByRole('region', { name: 'Revisions' })).toContainText('R1');
	await page.getByRole('button', { name: 'Complete job' }).click();
	await expect(page.getByRole('alert')).toContainText('write what the customer should know');
	await page.getByLabel(/Closing words/).fill('It holds its mixture; log again before the winter.');
	await page.getByRole('button', { name: 'Complete job' }).click();
	await expect(page.getByRole('status')).toContainText('Complete since');
	await page.getByRole('button', { name: 'Reopen job' }).click();
	await expect(page.getByRole('button', { name: 'Complete job' })).toBeVisible();
});

test('on paper every sheet of a job with an open stop says so, and whose it is', async ({ page }) => {
	await page.emulateMedia({ media: 'print' });
	for (const path of ['/jobs/1/logs/1', '/jobs/1/summary', '/jobs/1/logs/1/readiness']) {
		await open(page, path);
		await expect(page.locator('strong', { hasText: /^Open at stop: Bank \d/ }), path).toBeVisible();
	}
	await open(page, '/jobs/3/compare');
	await expect(page.getByText('Not to be driven hard')).toHaveCount(0);
	await expect(page.getByTestId('effective-fuel').locator('caption')).toContainText(
		'engine speed across, load down'
	);
});
