/** Finding a cause by the interface: a swap test from its finding to its answer, and plugs from the customer's phone to a draft. */
import sharp from 'sharp';
import { driveLog as drive } from '../../src/core/simulator/drive-log.ts';
import { stories } from '../../scripts/demo/world.ts';
import { arrived, customerLink, expect, open, phone, pick, test, unfold } from './page.ts';

const lean = stories().find((s) => s.title.startsWith('Kestrel no. 3'))!;

test('a difference of the banks is followed from its finding to the log that answers it', async ({
	page,
	browser
}) => {
	// What was swapped before moved: the cause is named.
	await open(page, '/jobs/8/cause');
	await expect(page.getByTestId('cause')).toContainText('It moved with the injectors');
	await expect(page.getByText('have that set of injectors flowed')).toBeVisible();
	// The injectors sit on bank 1 now, and its finding leads to the next test.
	await open(page, '/jobs/8');
	await page.locator('a.button[title="kestrel3-swapped.csv"]').click();
	await page.locator('#finding-0').click();
	await page.getByRole('link', { name: 'Root cause' }).click();
	await arrived(page, /\/jobs\/8\/cause\?finding=bank\.mismatch/);
	await pick(page.getByLabel('What is swapped'), /^Lambda sensors/);
	await expect(page.getByLabel('Cables')).toBeVisible();
	await page.getByRole('button', { name: 'Begin the test' }).click();
	await expect(page.getByText('Waits for its log.', { exact: true })).toBeVisible();
	await expect(
		page.getByLabel('String of the job').getByRole('link', { name: 'Test: lambda sensors from side to side' })
	).toBeVisible();

	// The customer is told what to do, and the log that comes back is bound to the test.
	const link = await customerLink(page, 8);
	const { page: customer, close } = await phone(browser);
	await open(customer, link);
	await expect(
		customer.getByText('Swap the two lambda sensors and plug each in where it sits now').first()
	).toBeVisible();
	await unfold(customer, 'Send the log');
	await customer.getByLabel('Choose the log').setInputFiles({
		name: 'sensors.csv',
		mimeType: 'text/csv',
		buffer: Buffer.from(drive(lean.vehicle, lean.calibration, { bankFlow: [0.93, 1] }, 91))
	});
	await customer.getByRole('button', { name: /^Send it/ }).click();
	await expect(customer.getByText('Sent. Your tuner has it.')).toBeVisible({ timeout: 30_000 });
	await close();
	await open(page, '/jobs/8/cause');
	await expect(async () => {
		await page.reload();
		await expect(page.getByTestId('answer').first()).toContainText('It stayed', { timeout: 1000 });
	}).toPass({ timeout: 60_000 });
	await expect(page.getByText('Ruled out: the lambda sensors.')).toBeVisible();
	await expect(page.getByTestId('cause')).toBeVisible();
});

test('a test needs its facts, and one that was begun by mistake is taken back', async ({ page }) => {
	await open(page, '/jobs/8/cause');
	await page.getByRole('heading', { name: 'A new test' }).click();
	await pick(page.getByRole('combobox', { name: /^For/ }), /no finding/);
	await pick(page.getByLabel('What is swapped'), /Between two cylinders/);
	await page.getByLabel('Cylinder', { exact: true }).fill('2');
	await page.getByLabel('with cylinder').fill('2');
	await page.getByLabel(/Ask the customer for it/).uncheck();
	await page.getByRole('button', { name: 'Begin the test' }).click();
	await expect(page.getByRole('alert')).toContainText('two different cylinders');
	await page.getByLabel('with cylinder').fill('5');
	await page.getByRole('button', { name: 'Begin the test' }).click();
	await expect(page.getByText('Waits for its log.', { exact: true })).toBeVisible();
	await page.getByRole('button', { name: 'Take it back' }).click();
	await expect(page.getByText('Waits for its log.', { exact: true })).toHaveCount(0);
});

test('each cylinder over the logs and the readings of the plugs', async ({ page }) => {
	await open(page, '/jobs/9/cylinders');
	await expect(page.getByRole('columnheader', { name: /^Plugs read/ })).toBeVisible();
	await expect(page.getByRole('row', { name: /^1 / })).toContainText('mark');
	await page.getByRole('table').getByRole('link', { name: 'Plugs read' }).click();
	await expect(page).toHaveURL(/plugs\?reading=/);
	// A car that nobody looked at by cylinder is asked for it.
	await open(page, '/jobs/6/cylinders');
	await expect(page.getByText('Nothing was seen by cylinder yet')).toBeVisible();
});

test('eight plugs: photographed into their places, read, trims proposed and taken into a draft', async ({
	page,
	browser
}) => {
	const link = await customerLink(page, 9);
	const { page: customer, close } = await phone(browser);
	await open(customer, link);
	await unfold(customer, 'Photos of the spark plugs');
	await customer.getByRole('link', { name: 'Photograph the plugs' }).click();
	await arrived(customer, /\/plugs$/);
	await expect(customer.getByRole('status')).toContainText('8 of 8 to go');
	const photo = (hue: number) =>
		sharp({ create: { width: 400, height: 300, channels: 3, background: { r: hue, g: 90, b: 60 } } })
			.jpeg()
			.toBuffer();
	await customer.getByLabel('Photo of plug 1').setInputFiles({
		name: 'plug.jpg',
		mimeType: 'image/jpeg',
		buffer: Buffer.from('no picture at all')
	});
	await expect(customer.getByRole('alert')).toContainText('no photo that can be read');
	// As a phone takes it: megabytes of detail, which the page makes small before it sends them.
	const detail = Buffer.alloc(2600 * 1900 * 3, 0).map((_, i) => (i * 7919 + (i >> 7) * 104729) & 255);
	const large = await sharp(Buffer.from(detail), { raw: { width: 2600, height: 1900, channels: 3 } })
		.jpeg({ quality: 92 })
		.toBuffer();
	expect(large.length).toBeGreaterThan(1 << 20);
	for (let c = 1; c <= 8; c++) {
		await customer.getByLabel(`Photo of plug ${c}`).setInputFiles({
			name: 'plug.jpg',
			mimeType: 'image/jpeg',
			buffer: c === 1 ? large : await photo(20 * c)
		});
		await expect(customer.getByRole('img', { name: new RegExp(`Plug of cylinder ${c},`) })).toBeVisible();
	}
	await expect(customer.getByRole('status')).toContainText('Every cylinder has its photo');
	expect(await customer.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
	await close();

	await open(page, '/jobs/9/plugs');
	await expect(page.getByRole('img', { name: /Plug of cylinder/ })).toHaveCount(8);
	// What stands there was read before: +3 became +5, and the timing waits.
	await expect(page.getByRole('row', { name: /^2 / })).toContainText('fuel +3.0 → +5.0 %');
	await expect(page.getByRole('row', { name: /^2 / })).toContainText('timing waits for the next reading');
	await page.getByRole('button', { name: 'Read a new set' }).click();
	await page.getByRole('button', { name: 'Save reading' }).click();
	await expect(page.getByRole('alert')).toContainText('read at least one plug');
	await page.getByLabel('Plating of cylinder 1').selectOption('half');
	await page.getByLabel('Heat mark of cylinder 1').selectOption('at-bend');
	await page.getByLabel('Plating of cylinder 5').selectOption('none');
	await page.getByLabel('Heat mark of cylinder 5').selectOption('past-bend');
	await page.getByLabel('Passes on it').fill('2');
	await page.getByRole('button', { name: 'Save reading' }).click();
	await expect(page.getByText('No trend from the reading before')).toBeVisible();
	await expect(page.getByRole('row', { name: /^1 / })).toContainText('fuel 0 → +1.0 %');
	await expect(page.getByRole('row', { name: /^5 / })).toContainText('timing 0 → −1.0°');
	await page.getByRole('button', { name: 'Propose these trims' }).click();
	await arrived(page, /\/jobs\/9\/revisions\/\d+$/);
	await page.keyboard.press('a');
	await expect(page.locator('[data-saving=saved]')).toBeVisible();
	await page.getByRole('button', { name: 'Review release' }).click();
	await page.waitForURL(/\/release$/);
	await expect(page.getByText('Fuel trim by cylinder').first()).toBeVisible();
	await expect(page.getByText('Timing trim by cylinder').first()).toBeVisible();
	// Over time each cylinder's photos stand in a row.
	await open(page, '/jobs/9/cylinders');
	const photos = page.getByLabel('Photos of the plugs');
	await expect(photos.getByRole('img')).toHaveCount(8);
	await expect(photos.getByRole('img', { name: /^Plug of cylinder 3,/ })).toBeVisible();
});

test('a damaged plug stops, and a set that can’t be read holds everything', async ({ page }) => {
	await open(page, '/jobs/9/plugs');
	await page.getByRole('button', { name: 'Read a new set' }).click();
	await page.getByLabel('engine cut after the pass').uncheck();
	await page.getByLabel('Plating of cylinder 1').selectOption('all');
	await page.getByLabel('Cylinder 3: strap melted').check();
	await page.getByRole('button', { name: 'Save reading' }).click();
	await expect(page.getByRole('status').first()).toContainText('Not readable');
	await expect(page.getByText('Plug of cylinder 3: the strap is melted')).toBeVisible();
	await expect(page.getByRole('button', { name: 'Propose these trims' })).toHaveCount(0);
});
