/** Towards a goal by the interface: the goal in numbers, the fuel planner, the ladder with its closed gates. */
import { parseCalibration } from '../../src/core/calibration/document.ts';
import { driveLog as drive } from '../../src/core/simulator/drive-log.ts';
import { stories } from '../../scripts/demo/world.ts';
import { expect, open, test } from './page.ts';

test('a goal is kept, planned from figures and from a log, and a wrong one names its field', async ({
	page
}) => {
	await open(page, '/jobs/9/fuel?log=none');
	await expect(page.getByRole('status')).toContainText('say the power that is wanted');
	await page.getByLabel('Power, hp').fill('900');
	await page.getByLabel(/^Boost by engine speed/).fill('3000 180');
	await page.getByRole('button', { name: 'Save targets' }).click();
	await expect(page.getByRole('alert')).toContainText('such as 3000: 180');
	// What was typed stays.
	await expect(page.getByLabel('Power, hp')).toHaveValue('900');
	await page.getByLabel(/^Boost by engine speed/).fill('3000: 180, 6500: 200');
	await page.getByLabel('Ethanol, %').fill('85');
	await page.getByLabel(/^Injectors to choose from/).fill('1300, 1900');
	await page.getByLabel(/^Pump at the rail/).fill('300');
	await page.getByRole('button', { name: 'Save targets' }).click();
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
	await expect(page.getByRole('button', { name: 'Take the step into a draft' })).toHaveCount(0);
	// The Ousel's goal goes further than its tables do.
	await open(page, '/jobs/9/ladder');
	await expect(page.getByTestId('rung')).toContainText('Boost');
	const gates = page.getByRole('region', { name: 'Gates' });
	await expect(gates).toContainText('Axes and sensor');
	await expect(gates).toContainText('extend the axis or the sensor');
	await expect(page.getByRole('button', { name: 'Take the step into a draft' })).toHaveCount(0);
});

test('a rung is taken, accepted with a reason, released, driven, and the next one stands on it', async ({
	page
}) => {
	test.setTimeout(240_000);
	// The Sledge whose timing was cut to 6°: three rungs are climbed, the log of the third is there. The answer comes when the logs of all are read.
	await open(page, '/jobs/10/ladder');
	await expect(page.getByTestId('rung')).toContainText('9.0° → 10.0°', { timeout: 60_000 });
	await expect(page.getByText('Every gate that could be looked at is open')).toBeVisible();
	const last = page.getByLabel('The last step');
	await expect(last).toContainText(/by the road\s*\+\d\.\d % ±/);
	// The way so far is a picture; a screen reader is told its figures.
	await expect(page.getByRole('img', { name: /Steps so far/ })).toHaveAccessibleName(
		/R0 first driven: boost \d+ kPa, timing 6\.0°.*R3 timing: .*timing 9\.0°/
	);
	await expect(last).toContainText('final timing keeps 2° in hand');
	// Climbing is a decision with a reason.
	await page.getByLabel('Why it is taken now').fill('Three pulls without a sound, 2° from where it rattled');
	await page.getByRole('button', { name: 'Take the step into a draft' }).click();
	const proposals = page.getByRole('region', { name: 'Proposals' });
	await expect(proposals).toContainText('Timing');
	await expect(proposals).toContainText('without a sound');
	// Nothing of it is accepted before a person does.
	await expect(page.getByRole('button', { name: 'Review release' })).toBeDisabled();
	await page
		.getByRole('button', { name: /^Accept \d+ cells$/ })
		.first()
		.click();
	await page.getByRole('button', { name: 'Review release' }).click();
	await page.getByRole('button', { name: 'Release R4' }).click();
	await page.getByRole('button', { name: 'Send R4' }).click();
	await expect(page.getByText('R4 sent, not confirmed').first()).toBeVisible();

	// Without a log of it no rung stands on it; driven, the next one does.
	await open(page, '/jobs/10/ladder');
	await expect(page.getByRole('region', { name: 'Gates' })).toContainText('log first', {
		timeout: 60_000
	});
	const revision = await page.getByRole('link', { name: /\bR4 / }).first().getAttribute('href');
	const id = revision!.split('/').at(-1);
	const inCar = parseCalibration(
		await (await page.request.get(`/api/v1/revisions/${id}/calibration`)).json()
	);
	const story = stories().find((s) => s.title.startsWith('Sledge no. 2'))!;
	await open(page, '/jobs/10');
	await page.locator('input[type=file]').setInputFiles({
		name: 'step-4.csv',
		mimeType: 'text/csv',
		buffer: Buffer.from(drive(story.vehicle, inCar, story.logs[0]!.faults, 94, { monitor: true }))
	});
	await expect(page.locator('a.button[title="step-4.csv"]')).toBeVisible({ timeout: 60_000 });
	await open(page, '/jobs/10/ladder');
	await expect(page.getByTestId('rung')).toContainText('10.0° → 11.0°', { timeout: 60_000 });
});

test('a stage opens the next one, a fill is noted, and what is missing is said', async ({ page }) => {
	// The Marl 1.8 runs on ordinary fuel; its goal is ethanol.
	await open(page, '/jobs/7/fuel?log=none');
	await page.getByLabel('Ethanol, %').first().fill('70');
	await page.getByLabel('Power, hp').fill('260');
	await page.getByRole('button', { name: 'Save targets' }).click();
	await expect(page.getByText('Kept.')).toBeVisible();
	const stages = page.getByRole('region', { name: 'Stages' });
	await expect(stages).toContainText('Opens when ordinary fuel is complete');
	// Its last log found a stop: nothing is called done over it.
	await expect(stages.getByRole('button', { name: 'Complete' })).toBeDisabled();
	await expect(stages).toContainText('Not done yet: Open at stop');
	const fills = page.getByRole('region', { name: 'Fills of the tank' });
	await fills.getByRole('button', { name: 'Note a fill' }).click();
	await fills.getByLabel('Ethanol, %').fill('many');
	await fills.getByRole('button', { name: 'Note it' }).click();
	await expect(page.getByRole('alert')).toContainText('from 0 to 100');
	// What was typed stays.
	await expect(fills.getByLabel('Ethanol, %')).toHaveValue('many');
	await fills.getByLabel('Ethanol, %').fill('68');
	await fills.getByLabel('In words').fill('full, from the pump by the bridge');
	await fills.getByRole('button', { name: 'Note it' }).click();
	await expect(fills).toContainText('68 % ethanol, measured');
	await expect(page.locator('aside')).toContainText('Filled up');
});

test('the planner answers without a job, in the units of the reader', async ({ page }) => {
	await open(page, '/planner');
	await expect(page.getByRole('status')).toContainText(
		'still needed: the power that is wanted, cylinders, rev limit'
	);
	await page.getByLabel('Power, hp').fill('400');
	await page.getByLabel('Cylinders').fill('4');
	await page.getByLabel(/^Rev limit/).fill('7000');
	await page.getByLabel(/^Flow, cc/).fill('650');
	await page.getByLabel(/^Injectors to choose from/).fill('850, 1300');
	const needs = page.getByRole('region', { name: 'What it needs' });
	await expect(needs).toContainText('cm³/min');
	await expect(page.getByRole('row', { name: /^85 / })).toContainText('over');
	await page.getByLabel(/^Rev limit/).fill('fast');
	await expect(page.getByRole('status')).toContainText('"fast" is not a number');
});

test('other injectors bring their data into the tune: sheet, event and a draft with the same fuel, at once', async ({
	page
}) => {
	await open(page, '/jobs/2/vehicle/injectors');
	await page.getByRole('button', { name: 'Show what changes' }).click();
	await expect(page.getByRole('alert')).toContainText('say what the new injectors flow');
	const now = Number(await page.getByRole('row', { name: /^Flow/ }).getByRole('cell').first().textContent());
	expect(now).toBeGreaterThan(100);
	const input = (title: string) => page.getByRole('row', { name: title }).locator('input').first();
	await input('Flow').fill(String(2 * now));
	await input('Dead time').fill('12:1.4 14:1.1 16:0.9');
	await input('In words').fill('flow sheet 12 of the bench');
	await page.getByRole('button', { name: 'Show what changes' }).click();
	const changes = page.getByRole('region', { name: 'What changes' });
	await expect(changes.getByRole('row', { name: /^Reference pulse/ })).toContainText('→');
	await expect(changes.getByRole('row', { name: /^Injector dead time/ })).toBeVisible();
	// The known answer: the engine gets what it got.
	await expect(page.getByTestId('effective')).toHaveText(/by [+−]?0\.[0-3] to [+−]?0\.[0-3] %/);
	await expect(page.getByRole('region', { name: 'Before the first drive' })).toContainText(
		'learned fuel trims'
	);
	await page.getByRole('button', { name: 'Fit them and make the draft' }).click();
	await expect(page).toHaveURL(/revisions\/\d+$/);
	await expect(page.locator('h1')).toContainText('draft');
	await expect(page.locator('aside')).toContainText('Hardware changed');
	await open(page, '/jobs/2/vehicle');
	await expect(page.locator('input[name="injectors.flowCcMin"]')).toHaveValue(String(2 * now));
	// A draft is open: other ones wait for it.
	await open(page, '/jobs/2/vehicle/injectors');
	await expect(page.getByText('is still a draft')).toBeVisible();
	await input('Flow').fill(String(3 * now));
	await page.getByRole('button', { name: 'Show what changes' }).click();
	await expect(changes).toBeVisible();
	await expect(page.getByRole('button', { name: 'Fit them and make the draft' })).toHaveCount(0);
});

test('from the table to the engine, a line per quantity', async ({ page }) => {
	await open(page, '/jobs/4/logs/5/delivered');
	const fuel = page.getByRole('region', { name: 'Fuel', exact: true });
	await expect(fuel).toContainText('while the pulse follows the table');
	// The picture of the link that broke says by how much and where; the ones before it follow.
	await expect(
		fuel.getByRole('img', { name: /mixture against target in the log, \+\d\.\d % at \d+ rpm/ })
	).toBeVisible();
	await expect(fuel.getByText('follows', { exact: true })).toHaveCount(2);
	await expect(page.getByRole('region', { name: 'Timing', exact: true })).toContainText(
		'Follows, as far as it is logged'
	);
	await page.getByText('The same in figures').click();
	await expect(page.getByRole('row', { name: /^Measured mixture/ })).toContainText('0.9');
	await expect(page.getByRole('region', { name: 'Shifts at full throttle in figures' })).toContainText(
		'The calibration has no shift speeds'
	);
});
