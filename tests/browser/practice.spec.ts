/** Practice as a newcomer plays it: level 1 from the first start to the end. */
import { expect, open, test } from './page.ts';

test('a newcomer plays level 1 to its end: own word first, a revision with the real tools, the truth', async ({
	page
}) => {
	test.setTimeout(90_000);
	await open(page, '/practice');
	await page.getByLabel('Seed of level 1: the same one makes the same car').fill('7');
	await page.getByRole('button', { name: 'Play' }).first().click();
	await expect(page.getByText('It has run on a borrowed file')).toBeVisible();
	const session = page.url();
	await page.getByRole('button', { name: 'Ask for a log' }).click();
	const word = page.getByRole('form', { name: 'Your own word' });
	await expect(word.getByRole('button')).toBeEnabled({ timeout: 60_000 });
	await expect(page.getByRole('heading', { name: /^Pull \d/ })).toBeVisible();
	// Until it is said, the job is shut: nothing of what Tanto found is to be seen.
	await open(page, '/');
	await expect(page.getByText('The stand-in')).toHaveCount(0);
	await page.goto(session);
	await word.getByLabel('The mixture is lean under load').check();
	await word.getByLabel('It knocks, and it is real').check();
	await word.getByRole('radio', { name: 'Stop: not to be driven hard' }).check();
	await word.getByRole('button', { name: 'That is what I see' }).click();
	const there = page.getByRole('region', { name: 'What was there' });
	await expect(there.getByRole('row', { name: /^The mixture is lean/ })).toContainText('hit');
	await expect(there.getByRole('row', { name: /^Not there: It knocks/ })).toContainText('wrong');
	// The real tools: propose, take over, release.
	await page.getByRole('link', { name: 'Open the log, and tune' }).click();
	await expect(page.getByText('Practice, level 1: the customer is a stand-in')).toBeVisible();
	await page.getByRole('button', { name: 'Propose next revision' }).click();
	const accept = page.getByRole('button', { name: /^Accept \d+ cells$/ });
	await expect(accept.first()).toBeVisible({ timeout: 60_000 });
	for (let left = await accept.count(); left > 0; left--) await accept.first().click();
	await expect(page.locator('[data-saving=saved]')).toBeVisible();
	await page.getByRole('button', { name: 'Review release' }).click();
	await page.getByRole('button', { name: 'Release R1' }).waitFor();
	for (const reason of await page.getByLabel(/Why it may go out/).all())
		await reason.fill('tried on the stand-in, whose engine is nobody’s');
	await page.getByRole('button', { name: 'Release R1' }).click();
	await page.getByRole('button', { name: 'Send R1' }).click();
	await expect(page.getByText('R1 sent, not confirmed').first()).toBeVisible();
	await page.goto(session);
	await page.getByRole('button', { name: 'Ask for a log' }).click();
	await expect(word.getByRole('button')).toBeEnabled({ timeout: 60_000 });
	// The next log begins with an empty sheet.
	await expect(word.getByLabel('The mixture is lean under load')).not.toBeChecked();
	await word.getByRole('radio', { name: 'Clear', exact: true }).check();
	await word.getByRole('button', { name: 'That is what I see' }).click();
	await page.getByRole('button', { name: 'End practice' }).click();
	await page.getByRole('alertdialog').getByRole('button', { name: 'End it' }).click();
	const end = page.getByRole('region', { name: 'How it ended' });
	await expect(end).toContainText('Won: the engine is as it should be', { timeout: 90_000 });
	await expect(end).toContainText('No place of it was hurt');
	await expect(end.getByRole('row', { name: /^Revisions/ })).toContainText('1');
});
