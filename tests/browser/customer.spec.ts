/** The customer's phone: from the link to the sent log, checked before it is sent; a problem; a log that won't do. */
import sharp from 'sharp';
import { driveLog as drive } from '../../src/core/simulator/drive-log.ts';
import { stories } from '../../scripts/demo/world.ts';
import { handMade, pullShapes } from '../../src/core/testing/hand-made.ts';
import { csvOf } from '../../src/core/logfile/write.ts';
import { customerLink, expect, open, phone, test, unfold } from './page.ts';

const story = stories().find((s) => s.title.startsWith('Kestrel no. 2'))!;
const file = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });

test('from the link to the sent log, and the tuner sees it arrive without reloading', async ({
	page,
	browser
}) => {
	// The tuner asks for a full-throttle pull in third and fourth gear.
	await open(page, '/jobs/6/plan?template=full-throttle&gears=3,4');
	await page.getByLabel('A few words to go with it').fill('After the service, please.');
	await page.getByRole('button', { name: 'Ask for this log' }).click();
	await expect(page.getByLabel('About the job')).toContainText('Full-throttle pull');
	const link = await customerLink(page, 6);
	await open(page, '/jobs/6');

	const { page: customer, close } = await phone(browser);
	await open(customer, link);
	await expect(customer.getByLabel('Message from your tuner')).toContainText('After the service, please.');
	await unfold(customer, 'Drive and record');
	await customer.getByRole('link', { name: /Open the \d steps/ }).click();
	await expect(customer.getByText('in gears 3 and 4, one pull each')).toBeVisible();
	await expect(customer.getByText('Full throttle only on a closed course').first()).toBeVisible();
	expect(await customer.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
	await customer.getByRole('link', { name: 'Back to your page' }).click();

	// A short log without the pulls and without knock: the phone says so in plain words before anything is sent.
	await unfold(customer, 'Send the log');
	const { knockRetard: _, ...shapes } = pullShapes(10, 6);
	const short = [...csvOf(handMade(8, 20, shapes))].join('');
	await customer.getByLabel('Choose the log').setInputFiles(file('short.csv', short));
	const fit = customer.getByTestId('fit');
	await expect(fit).toContainText('This log may not be enough');
	await expect(fit).toContainText('Not recorded:');
	await expect(fit).toContainText('knock retard');
	await expect(fit).toContainText('a full-throttle pull');
	await expect(customer.getByRole('button', { name: 'Send it all the same' })).toBeVisible();
	await customer.getByRole('button', { name: 'Choose another file' }).click();

	const text = drive(story.vehicle, story.calibration, {}, 77);
	await customer.getByLabel('Choose the log').setInputFiles(file('evening.csv', text));
	await expect(fit).toContainText('full-throttle pulls in gear 3 and 4');
	await customer.getByLabel(/Which fuel is in the tank/).fill('RON 98, full');
	await customer.getByLabel(/Anything odd/).fill('<b>nothing</b>');
	expect(await customer.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
	await customer.getByRole('button', { name: /^Send it/ }).click();
	await expect(customer.getByText('Sent. Your tuner has it.')).toBeVisible();
	// What happened so far, newest first, by the customer's own clock.
	await unfold(customer, 'What happened so far');
	const soFar = customer.locator('details', { hasText: 'What happened so far' }).getByRole('listitem');
	await expect(soFar.first()).toContainText('you');
	await expect(soFar.first()).toContainText('sent evening.csv');
	await expect(soFar.nth(1)).toContainText('asked for a log: Full-throttle pull');
	await expect(customer.locator('body')).not.toContainText('UTC');

	// The tuner's page is open all the while.
	await expect(page.locator('a.button[title="evening.csv"]')).toBeVisible({ timeout: 30_000 });
	await page.locator('a.button[title="evening.csv"]').click();
	await expect(page.getByLabel('Said with the log')).toContainText('Fuel RON 98, full');
	await expect(page.getByLabel('Said with the log')).toContainText('<b>nothing</b>');
	await close();
});

test('a broken connection is taken up again', async ({ page, browser }) => {
	const link = await customerLink(page, 6);
	const { page: customer, close } = await phone(browser);
	await open(customer, link);
	let cuts = 0;
	await customer.route('**/uploads/**', async (route) => {
		if (route.request().method() === 'PATCH' && cuts < 2) {
			cuts++;
			await route.abort('connectionreset');
		} else await route.continue();
	});
	await unfold(customer, 'Send the log');
	const text = drive(story.vehicle, story.calibration, {}, 78);
	await customer.getByLabel('Choose the log').setInputFiles(file('shaky.csv', text));
	await customer.getByRole('button', { name: /^Send it/ }).click();
	await expect(customer.getByText('Sent. Your tuner has it.')).toBeVisible({ timeout: 30_000 });
	expect(cuts).toBe(2);
	await close();
});

test('a problem is reported with its moment and the words of the customer', async ({ page, browser }) => {
	const link = await customerLink(page, 5);
	const { page: customer, close } = await phone(browser);
	await open(customer, link);
	await unfold(customer, 'Something is wrong with it');
	await customer.getByRole('link', { name: 'Report a problem' }).click();
	await expect(customer.getByText("don't drive it any further")).toBeVisible();
	const text = [...csvOf(handMade(60, 10, pullShapes()))].join('');
	await customer.getByLabel('Choose the recording of the problem').setInputFiles(file('stutter.csv', text));
	await customer.getByLabel(/When did it happen/).fill('at noon');
	await customer.getByLabel(/What did it do\?/).fill('It stutters when it is hot.');
	await customer.getByRole('button', { name: /^Send it/ }).click();
	await expect(customer.getByRole('alert')).toContainText('like 1:30');
	await customer.getByLabel(/When did it happen/).fill('0:42');
	await customer.getByRole('button', { name: /^Send it/ }).click();
	await expect(customer.getByText('Sent. Your tuner has it.')).toBeVisible();
	await close();
	await open(page, '/jobs/5');
	await page.locator('a.button[title="stutter.csv"]').click();
	await expect(page.getByLabel('Said with the log')).toContainText('A problem, marked at 0:42');
	await expect(page.getByLabel('Said with the log')).toContainText('It stutters when it is hot.');
	await expect(page.getByTitle('marked by the customer')).toBeAttached();
});

test("one key: this log won't do; the reasons and the plan go to the customer", async ({ page, browser }) => {
	const link = await customerLink(page, 2);
	await open(page, '/jobs/2');
	const { ect: _, ...shapes } = pullShapes();
	await page
		.locator('input[type=file]')
		.setInputFiles(file('half.csv', [...csvOf(handMade(30, 20, shapes))].join('')));
	await page.locator('a.button[title="half.csv"]').click();
	await expect(page.getByRole('heading', { name: 'Findings' })).toBeVisible();
	await page.keyboard.press('w');
	const panel = page.getByLabel('Ask for another log');
	await expect(panel.getByLabel('To the customer')).toHaveValue(
		/half\.csv[\s\S]*Not recorded:[\s\S]*coolant/
	);
	await page.keyboard.press('Control+Enter');
	await expect(page.getByText('Waits for the customer')).toBeVisible();
	await expect(page.locator('#messages article').first()).toContainText('Not recorded:');
	// Mail goes out after what it speaks of is stored, and the page shows what had gone when it was opened.
	await expect(async () => {
		await open(page, '/mail');
		await expect(page.locator('article').first()).toContainText('jon@abel.example', { timeout: 1000 });
	}).toPass();
	await expect(page.locator('article').first()).toContainText('another log, please');
	const { page: customer, close } = await phone(browser);
	await open(customer, link);
	await expect(customer.getByLabel('Message from your tuner')).toContainText('Not recorded:');
	await close();
});

test('the look over the car: answers and photos, small and without the place they were taken at', async ({
	page,
	browser
}) => {
	const link = await customerLink(page, 6);
	const { page: customer, close } = await phone(browser);
	await open(customer, `${link}/inspection`);
	const section = customer.locator('section', {
		has: customer.getByRole('heading', { name: 'Hoses and clamps' })
	});
	await section.getByLabel('Remark').fill('One was loose, tightened.');
	await section.getByRole('button', { name: 'Fine', exact: true }).click();
	await expect(section.getByRole('button', { name: 'Fine', exact: true })).toHaveAttribute(
		'aria-pressed',
		'true'
	);
	const photo = await sharp({ create: { width: 3000, height: 2000, channels: 3, background: '#886644' } })
		.withExif({
			IFD0: { Copyright: 'somebody' },
			IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '51/1 30/1 0/1' }
		})
		.jpeg()
		.toBuffer();
	expect((await sharp(photo).metadata()).exif).toBeDefined();
	await section
		.getByLabel('Photo for Hoses and clamps')
		.setInputFiles({ name: 'IMG_1.jpg', mimeType: 'image/jpeg', buffer: photo });
	await expect(section.getByRole('img', { name: 'Hoses and clamps, photo 1' })).toBeVisible();
	const source = await section.getByRole('img').first().getAttribute('src');
	const stored = await (await customer.request.get(new URL(source!, link).href)).body();
	const { exif, width, height } = await sharp(stored).metadata();
	expect({ exif, width, height }).toEqual({ exif: undefined, width: 1600, height: 1067 });
	const leaks = customer.locator('section', { has: customer.getByRole('heading', { name: 'Leaks' }) });
	await leaks
		.getByLabel('Photo for Leaks')
		.setInputFiles({ name: 'x.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('<svg onload=alert(1)>') });
	await expect(leaks.getByRole('alert')).toContainText('no photo that can be read');
	await close();
	await open(page, '/jobs/6/inspection');
	await expect(page.getByText('One was loose, tightened.')).toBeVisible();
	await expect(page.getByRole('img', { name: 'Hoses and clamps, photo 1' })).toBeVisible();
});

test('the customer writes, the tuner reads it and answers', async ({ page, browser }) => {
	const link = await customerLink(page, 3);
	const { page: customer, close } = await phone(browser);
	await open(customer, link);
	await unfold(customer, 'Write to your tuner');
	await customer.getByLabel('Message to your tuner').fill('When shall I change the oil?');
	await customer.getByRole('button', { name: 'Send the message' }).click();
	await expect(customer.getByText('Your tuner has it.')).toBeVisible();
	await expect(page.locator('#messages')).toContainText('When shall I change the oil?', { timeout: 15_000 });
	await page.getByLabel('Note or message').fill('Only between us: he asks every time.');
	await page.getByRole('button', { name: 'Keep as a note' }).click();
	await expect(page.getByText('Noted.')).toBeVisible();
	await page.getByLabel('Note or message').fill('Before the next log.');
	await page.getByRole('button', { name: 'Send to the customer' }).click();
	await expect(page.getByText('no mail address of this customer is known')).toBeVisible();
	await open(customer, link);
	await expect(customer.getByLabel('Message from your tuner')).toContainText('Before the next log.');
	await expect(customer.getByText('he asks every time')).toHaveCount(0);
	await close();
});

test('before an event: the sheet of the newest log on the phone, never more than was seen', async ({
	page,
	browser
}) => {
	const link = await customerLink(page, 3);
	const { page: customer, close } = await phone(browser);
	await open(customer, link);
	await unfold(customer, 'Before an event');
	await customer.getByRole('link', { name: "Go or don't go" }).click();
	const go = customer.getByTestId('go');
	await expect(go).toContainText('Not seen:');
	await expect(go).not.toContainText('Everything on the sheet is fine');
	await expect(customer.getByRole('listitem').filter({ hasText: 'Knock' })).toContainText('fine');
	expect(await customer.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
	await close();

	// One that nobody has answered yet, with a finding to mend, is told at once.
	const stopped = await phone(browser);
	await open(stopped.page, `${await customerLink(page, 5)}/ready`);
	await expect(stopped.page.getByText("Your tuner hasn't looked yet.")).toBeVisible();
	await expect(stopped.page.getByTestId('go')).toHaveText(/^Don't go: ./);
	await stopped.close();
});

test('how to set the recording up is kept with the controller, and stands in the plan on the phone', async ({
	page,
	browser
}) => {
	await open(page, '/layouts/1/kit');
	await page.getByLabel('Steps, one a line').fill('Choose the set below.\nPress Record.');
	await page.getByRole('button', { name: 'Save steps' }).click();
	await expect(page.getByRole('status')).toContainText('Saved');
	await page
		.getByLabel('Files')
		.locator('input[type=file]')
		.setInputFiles([
			{ name: 'gauges.layout', mimeType: 'application/octet-stream', buffer: Buffer.from('four gauges') }
		]);
	await page.getByRole('button', { name: 'Add to the kit' }).click();
	await expect(page.getByRole('link', { name: 'gauges.layout' })).toBeVisible();
	await open(page, '/jobs/1/plan');
	await expect(page.getByRole('main')).toContainText('With it go 2 steps and 3 files');
	const link = await customerLink(page, 1);
	const { page: mobile, close } = await phone(browser);
	await open(mobile, `${new URL(link).pathname}/plan`.replace(/^/, new URL(link).origin));
	const kit = mobile.getByLabel('Set up the recording');
	await expect(kit.getByRole('listitem').first()).toHaveText('Choose the set below.');
	const picture = kit.getByRole('img', { name: 'where record is' });
	await expect.poll(() => picture.evaluate((i: HTMLImageElement) => i.naturalWidth)).toBe(720);
	const download = mobile.waitForEvent('download');
	await kit.getByRole('link', { name: /gauges.layout/ }).click();
	expect((await download).suggestedFilename()).toBe('gauges.layout');
	await close();
	await page.goto('/layouts/1/kit');
	await page.getByRole('button', { name: 'Remove gauges.layout' }).click();
	await page.getByRole('alertdialog').getByRole('button', { name: 'Remove' }).click();
	await expect(page.getByRole('link', { name: 'gauges.layout' })).toHaveCount(0);
});
