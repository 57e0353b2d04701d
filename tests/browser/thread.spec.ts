/**
 * The main thread of the job, from taking it on to the verified change, on the built server. The logs come from the stand-in
 * vehicle, driven with exactly the calibration that the interface hands out.
 */
import { readFileSync } from 'node:fs';
import { parseCalibration, type Calibration } from '../../src/core/calibration/document.ts';
import type { Faults } from '../../src/core/simulator/faults.ts';
import { baseCalibration } from '../../src/core/simulator/base-calibration.ts';
import { driveLog as drive } from '../../src/core/simulator/drive-log.ts';
import { VEHICLES } from '../../src/core/simulator/vehicles.ts';
import { arrived, expect, more, open, pickItem, phone, test, unfold } from './page.ts';

const vehicle = { ...VEHICLES.kestrel, name: 'Orsa Kestrel 3.2 test car' };
const base = parseCalibration(
	baseCalibration({
		vehicle,
		fuelModel: 'speed-density',
		name: 'as received',
		fuelError: (rpm, load) => 0.05 * (1 - load) - 0.09 * rpm
	})
);

const json = (name: string, value: unknown) => ({
	name,
	mimeType: 'application/json',
	buffer: Buffer.from(JSON.stringify(value))
});
const csv = (name: string, calibration: Calibration, faults: Faults, seed: number) => ({
	name,
	mimeType: 'text/csv',
	buffer: Buffer.from(drive(vehicle, calibration, faults, seed))
});

test('from a new job to the verified change', async ({ page, browser }) => {
	// 1. The job is taken on; its baseline is R0.
	await open(page, '/jobs/new');
	await page.getByLabel('Customer · needed').fill('Mira Tarn');
	await page.getByLabel('Job · needed').fill('Kestrel test: lean to one side');
	await page.getByLabel('read from a file').check();
	await page.getByLabel(/Vehicle document/).setInputFiles(json('kestrel.json', vehicle));
	await page.getByLabel('from a file', { exact: true }).check();
	await page.getByLabel(/becomes R0/).setInputFiles(json('r0.json', base));
	await page.getByRole('button', { name: 'Create job' }).click();
	await expect(page.getByRole('heading', { name: 'Kestrel test: lean to one side' })).toBeVisible();
	const job = new URL(page.url()).pathname;

	// 2. and 3. A log comes in and is screened: bank 2 is lean, the verdict is stop.
	const first = csv('first.csv', base, { bankFlow: [1, 0.88] }, 101);
	await page.locator('input[type=file]').setInputFiles(first);
	await expect(page.getByText('received', { exact: true })).toBeVisible();
	await expect(page.locator('a.button[title="first.csv"]')).toBeVisible();
	await page.locator('input[type=file]').setInputFiles(first);
	await expect(page.getByText('already here')).toBeVisible();
	await page.locator('a.button[title="first.csv"]').click();
	await expect(page.getByTestId('verdict')).toContainText('Stop:');
	await expect(page.getByText(/Bank 2 needs 1\d\.\d % more fuel than bank 1/).first()).toBeVisible();
	await expect(page.locator('section[aria-label="Traces"]')).toHaveAttribute('data-ready', 'true');
	await page.getByRole('button', { name: 'Bank 2 against bank 1', exact: true }).click();
	await expect(page.getByText('Percent that bank 2 wants more')).toBeVisible();

	// 4. Nothing is proposed for the fuel while the banks disagree; a change by hand that takes fuel out is refused.
	await page.getByRole('button', { name: 'Propose next revision' }).click();
	await expect(page.getByRole('region', { name: 'Holds' })).toContainText('find the cause first');
	await pickItem(page, 'Volumetric efficiency');
	await page.getByRole('grid').focus();
	await page.keyboard.press('Shift+ArrowRight');
	await page.keyboard.type('-2%');
	await page.keyboard.press('Enter');
	await page.getByLabel(/Reason for the 2 changed cells/).fill('trial');
	await page.keyboard.press('Enter');
	await expect(page.locator('[data-saving=saved]')).toBeVisible();
	await page.getByRole('button', { name: 'Review release' }).click();
	await expect(page.getByText('Open at stop: Bank 2 needs')).toBeVisible();
	await page.getByRole('button', { name: 'Release R1' }).click();
	await expect(page.getByRole('alert')).toContainText('A hold has no reason yet');
	await expect(page.getByLabel(/Why it may go out/).first()).toBeFocused();
	await page.getByRole('link', { name: 'Back to the draft' }).click();
	await more(page, 'Discard draft');
	await page.getByRole('button', { name: 'Discard the draft' }).click();
	await expect(page).toHaveURL(job);

	// The injectors of bank 2 are repaired: the next log is fit to revise from.
	await page.locator('input[type=file]').setInputFiles(csv('repaired.csv', base, {}, 102));
	await page.locator('a.button[title="repaired.csv"]').click();
	await expect(page.getByText(/Bank 2 against bank 1: idle/)).toBeVisible();
	await page.getByRole('button', { name: 'Propose next revision' }).click();
	await expect(page.getByRole('region', { name: 'Proposals' })).toContainText('Volumetric efficiency');
	await page
		.getByRole('button', { name: /^Accept \d+ cells$/ })
		.first()
		.click();
	await page.getByRole('button', { name: 'Undo' }).click();
	await expect(page.getByRole('button', { name: 'Review release' })).toBeDisabled();
	await page.getByRole('button', { name: 'Redo' }).click();
	await expect(page.locator('[data-saving=saved]')).toBeVisible();

	// 5. Compared with R0: the fuel table differs, and so does what comes out.
	await page.getByRole('button', { name: 'Compare with R0' }).click();
	await expect(page.getByRole('heading', { level: 1 })).toContainText('R1 against R0: 1 item differs');
	await expect(page.getByTestId('effective-fuel')).toContainText('+');
	await page.getByRole('link', { name: 'Open R1' }).click();

	// 6. Released with a closed file; one for another controller is refused.
	await page.getByRole('button', { name: 'Review release' }).click();
	await page.getByLabel('File', { exact: true }).setInputFiles({
		name: 'kestrel-r1.bin',
		mimeType: 'application/octet-stream',
		buffer: Buffer.alloc(4096, 7)
	});
	await page.getByLabel('with software').fill('C7-9999');
	await page.getByRole('button', { name: 'Attach' }).click();
	await expect(page.getByRole('alert')).toContainText('the vehicle has "C7-2104"');
	await page.getByLabel('with software').fill('C7-2104');
	await page.getByRole('button', { name: 'Attach' }).click();
	await expect(page.getByText('kestrel-r1.bin', { exact: true })).toHaveCount(2);
	for (const reason of await page.getByLabel(/Why it may go out/).all())
		await reason.fill('Corrected from measured cells after the repair; both banks agree now');
	await page.getByRole('button', { name: 'Release R1' }).click();
	await expect(page.getByRole('alert')).toContainText(
		'Look whether the closed file holds what the tables say'
	);
	await page.getByLabel(/The closed file holds what the tables say/).check();
	await page.getByLabel(/The tables as well/).check();
	await page.getByRole('button', { name: 'Release R1' }).click();
	await expect(page.getByRole('dialog')).toContainText(
		'They can download kestrel-r1.bin and R1.json (every table in plain numbers).'
	);
	// Nobody is told yet: there is neither an address nor a link.
	await expect(page.getByRole('dialog')).toContainText("They won't know of it");
	await page.getByRole('button', { name: 'Send R1' }).click();
	await expect(page.getByText('R1 sent, not confirmed').first()).toBeVisible();
	await expect(page.getByText(/knows of nothing: no mail address/)).toBeVisible();
	await expect(page.getByText('Waits for you')).toBeVisible();
	await page.getByRole('button', { name: 'make a link', exact: true }).click();
	await expect(page.getByText('Waits for the customer')).toBeVisible();
	const path = await page.getByRole('link', { name: 'open it' }).getAttribute('href');
	const link = new URL(path!, page.url()).href;

	// The customer's phone: what changed, the files, and the next log, made with the released calibration.
	const { page: customer, close } = await phone(browser);
	await customer.goto(link);
	await arrived(customer);
	await expect(customer.getByText('Your new file is R1')).toBeVisible();
	await expect(customer.getByRole('region', { name: 'Message from your tuner' })).toContainText('More fuel');
	expect(await customer.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
	const [closed] = await Promise.all([
		customer.waitForEvent('download'),
		customer.getByRole('link', { name: /kestrel-r1.bin/ }).click()
	]);
	expect(readFileSync(await closed.path())).toEqual(Buffer.alloc(4096, 7));
	const [download] = await Promise.all([
		customer.waitForEvent('download'),
		customer.getByRole('link', { name: 'Tables of R1' }).click()
	]);
	const released = parseCalibration(JSON.parse(readFileSync(await download.path(), 'utf8')));
	// R1 was sent, not confirmed: the phone asks which file was in the car, and takes no silence for an answer.
	await unfold(customer, 'Send the log');
	await customer.getByLabel('Choose the log').setInputFiles(csv('with-r1.csv', released, {}, 103));
	await customer.getByRole('button', { name: /^Send it/ }).click();
	await expect(customer.getByRole('alert')).toContainText('Say which file was in the car');
	await customer.getByLabel('Which file was in the car?').selectOption('R1');
	await customer.getByRole('button', { name: /^Send it/ }).click();
	await expect(customer.getByText('arrived and read')).toBeVisible();
	await close();

	// 7. The log has landed in the job, and the changed cells are better than before.
	await open(page, job);
	await page.locator('a.button[title="with-r1.csv"]').click();
	await expect(page.getByTestId('outcome')).toContainText(
		/What it changed worked(, and nothing is left|; still open:)/
	);
	const before = Number.parseFloat(await page.getByTestId('before').innerText());
	const after = Number.parseFloat(await page.getByTestId('after').innerText());
	expect(before).toBeGreaterThan(2);
	expect(after).toBeLessThan(before / 2);
});
