/** Towards a goal by the interface: the goal in numbers, the fuel planner, the ladder with its closed gates. */
import { expect, open, test } from './page.ts';

test('a goal is kept, planned from figures and from a log, and a wrong one names its field', async ({
	page
}) => {
	await open(page, '/jobs/9/fuel?log=none');
	await expect(page.getByRole('status')).toContainText('say the power that is wanted');
	await page.getByLabel('Power, hp').fill('900');
	await page.getByLabel(/^Boost by engine speed/).fill('3000 180');
	await page.getByRole('button', { name: 'Keep the goal' }).click();
	await expect(page.getByRole('alert')).toContainText('such as 3000: 180');
	// What was typed stays.
	await expect(page.getByLabel('Power, hp')).toHaveValue('900');
	await page.getByLabel(/^Boost by engine speed/).fill('3000: 180, 6500: 200');
	await page.getByLabel('Ethanol, %').fill('85');
	await page.getByLabel(/^Injectors to choose from/).fill('1300, 1900');
	await page.getByLabel(/^Pump at the rail/).fill('300');
	await page.getByRole('button', { name: 'Keep the goal' }).click();
	const needs = page.getByRole('region', { name: 'What it needs' });
	await expect(needs).toContainText('The pump is short');
	await expect(needs).toContainText('1900 cm³/min');
	await expect(page.getByRole('row', { name: /^85 / })).toContainText('over');
	await page.getByLabel('planned from').selectOption({ index: 0 });
	await expect(page.getByText('From the pulse of the log')).toBeVisible();
	await page.reload();
	await expect(page.getByLabel('Ethanol, %')).toHaveValue('85');
});

test('the ladder shows the gate that is closed, and takes no rung past it', async ({ page }) => {
	// The first Kestrel's banks disagree: nothing is climbed.
	await open(page, '/jobs/1/ladder');
	await expect(page.getByTestId('rung')).toContainText('The banks');
	await expect(page.getByRole('region', { name: 'Gates' })).toContainText('Bank 2 needs');
	await expect(page.getByRole('button', { name: 'Take the rung into a draft' })).toHaveCount(0);
	// The Ousel's goal goes further than its tables do.
	await open(page, '/jobs/9/ladder');
	await expect(page.getByTestId('rung')).toContainText('Boost');
	const gates = page.getByRole('region', { name: 'Gates' });
	await expect(gates).toContainText('Axes and sensor');
	await expect(gates).toContainText('extend the axis or the sensor');
	await expect(page.getByRole('button', { name: 'Take the rung into a draft' })).toHaveCount(0);
});
