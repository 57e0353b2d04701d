/** A file whose layout nobody recognises: the tuner's page and the customer's phone lead to a read log, and it is remembered. */
import { handMade, pullShapes } from '../../src/core/testing/hand-made.ts';
import { csvOf } from '../../src/core/logfile/write.ts';
import { customerLink, expect, open, phone, test, unfold } from './page.ts';

const file = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
/** A log whose clock is called something that nobody knows, under a line of its own. */
const strange = (clock: string, seconds: number) =>
	`1;2;3\n${[...csvOf(handMade(seconds, 10, pullShapes()))].join('').replace(/^time/, clock).replaceAll(',', ';')}`;

test('the page of a log that could not be read leads to a read one', async ({ page }) => {
	await open(page, '/jobs/4');
	await page.locator('input[type=file]').setInputFiles(file('odd-clock.csv', strange('Moment', 31)));
	await page
		.getByRole('row', { name: /odd-clock\.csv/ })
		.getByRole('link')
		.click();
	await expect(page.getByRole('alert')).toContainText('no time column found');
	const form = page.getByLabel('How the file is laid out');
	await expect(form.getByTestId('first-lines')).toContainText('Moment;rpm;map');
	await form.getByRole('radio').nth(1).check();
	await form.getByLabel('Its cells are split at').selectOption('semicolons');
	await form.getByLabel('The time is in the column').selectOption('Moment');
	await form.getByRole('button', { name: 'Read it like this' }).click();
	await expect(page.getByLabel('Verdict')).toBeVisible({ timeout: 20_000 });
	await expect(page.getByText('0:30', { exact: true }).first()).toBeVisible();

	// The next file of this customer is read without a question.
	await open(page, '/jobs/4');
	await page.locator('input[type=file]').setInputFiles(file('odd-again.csv', strange('Moment', 33)));
	await page.locator('a.button[title="odd-again.csv"]').click();
	await expect(page.getByLabel('Verdict')).toBeVisible({ timeout: 20_000 });
});

test('the phone asks, looks again, and sends what was said with the file', async ({ page, browser }) => {
	const link = await customerLink(page, 5);
	const { page: customer, close } = await phone(browser);
	await open(customer, link);
	await unfold(customer, 'Send the log');
	await customer.getByLabel('Choose the log').setInputFiles(file('odd-phone.csv', strange('Instant', 35)));
	await expect(customer.getByText("This file can't be read as a log.")).toBeVisible();
	const form = customer.getByLabel('How the file is laid out');
	await form.getByLabel('The time is in the column').selectOption('Instant');
	expect(await customer.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
	await form.getByRole('button', { name: 'Look through it again' }).click();
	await expect(customer.getByTestId('fit')).toBeVisible();
	await customer.getByRole('button', { name: /^Send it/ }).click();
	await expect(customer.getByText('Sent. Your tuner has it.')).toBeVisible();
	await close();
	await open(page, '/jobs/5');
	await page.locator('a.button[title="odd-phone.csv"]').click();
	await expect(page.getByLabel('Verdict')).toBeVisible({ timeout: 20_000 });
});
