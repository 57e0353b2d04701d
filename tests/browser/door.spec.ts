/** A real tuner's way in: an empty folder, six tables out of an own program, a revision carried back and proved by pasting it out of the file. */
import { parseCalibration, type Calibration, type MapItem } from '../../src/core/calibration/document.ts';
import { tableLayoutSchema } from '../../src/core/calibration/tables/layout.ts';
import { tableText } from '../../src/core/calibration/tables/write.ts';
import { baseCalibration } from '../../src/core/simulator/base-calibration.ts';
import { driveLog as drive } from '../../src/core/simulator/drive-log.ts';
import { VEHICLES } from '../../src/core/simulator/vehicles.ts';
import { expect, test, type Page } from '@playwright/test';
import { BuiltServer } from './built-server.ts';
import { arrived, edit, more } from './page.ts';

const vehicle = { ...VEHICLES.marl, name: 'Tavi Marl 2.0 of a stranger' };
const base = parseCalibration(
	baseCalibration({
		vehicle,
		fuelModel: 'speed-density',
		name: 'as received',
		fuelError: (_, load) => -0.05 * load - 0.01
	})
);
const item = (id: string) => base.items.find((i) => i.id === id) as MapItem;
const text = (id: string, more: object = {}) =>
	tableText(
		base,
		tableLayoutSchema.parse({
			item: id,
			decimals: 3,
			x: item(id).x,
			...(item(id).kind === 'map' ? { y: item(id).y } : {}),
			...more
		})
	);

let server: BuiltServer;
async function at(page: Page, path: string): Promise<void> {
	await page.goto(new URL(path, page.url()).href);
	await arrived(page);
}
test.beforeAll(async () => {
	server = await BuiltServer.on();
	await server.start();
});
test.afterAll(() => server.remove());

test('from an empty folder to a proved release and the next log', async ({ browser }) => {
	test.setTimeout(450_000);
	const context = await browser.newContext({
		permissions: ['clipboard-read', 'clipboard-write'],
		viewport: { width: 1280, height: 800 }
	});
	const page = await context.newPage();
	const shown = () => page.locator('body').innerText();

	// The account of the owner, then the first job: no calibration yet.
	await page.goto(server.setup);
	await page.locator('input[name=name]').fill('Odd Tuner');
	await page.locator('input[name=email]').fill('odd@tuner.example');
	await page.locator('input[name=password]').fill('a long enough pass phrase');
	await page.locator('form button').last().click();
	await expect(page.getByRole('list', { name: 'How a job goes' })).toContainText('The customer’s link');
	await page.getByRole('link', { name: 'New job' }).first().click();
	await arrived(page, /\/jobs\/new$/);
	await page.getByLabel('Customer · needed').fill('Ines Varga');
	await page.getByLabel('Job · needed').fill('Marl: first tune');
	await page.getByLabel('read from a file').check();
	await page.getByLabel(/Vehicle document/).setInputFiles({
		name: 'v.json',
		mimeType: 'application/json',
		buffer: Buffer.from(JSON.stringify(vehicle))
	});
	await page.getByRole('button', { name: 'Create job' }).click();
	await expect(page.getByRole('heading', { name: 'Tables', level: 1 })).toBeVisible();

	// Six tables: falling rows, turned, decimal commas, a body with its axes apart, a gauge in psi, a curve.
	const area = page.getByLabel(/^Next:|Paste a table, or lines/);
	const kept = async (title: RegExp) => {
		const keep = page.getByRole('button', { name: 'Save and next' });
		await expect(keep, await shown()).toBeEnabled();
		await area.press('Enter');
		await expect(page.getByRole('status').filter({ hasText: 'is in R0' })).toContainText(title);
		await expect(area).toHaveValue('');
	};
	const say = async (what: string, across?: [string, string], up?: [string, string], unit?: string) => {
		await page.getByLabel('It is').selectOption(what);
		if (unit !== undefined) await page.getByLabel('Unit', { exact: true }).fill(unit);
		for (const [word, to] of [
			['Across', across],
			['Up', up]
		] as const) {
			if (!to) continue;
			await page.getByLabel(`${word} is read by`).selectOption(to[0]);
			await page.getByLabel(`Unit ${word.toLowerCase()}`).fill(to[1]);
		}
	};
	await area.fill('\t1000\t2000\n40\t50\n');
	await expect(page.getByRole('alert')).toContainText('row 2, column 3: there is no value here');
	await area.fill(text('fuel.table', { rows: 'y-up' }));
	await expect(page.getByLabel('It is')).toHaveValue('fuel.table');
	await kept(/Fuel table/);
	await area.fill(text('spark.table', { transposed: true }));
	await say('spark.table', ['rpm', 'rpm'], ['map', 'kPa'], '°');
	await kept(/Timing/);
	await area.fill(text('lambda.target').replaceAll('.', ','));
	await expect(page.getByText('decimal commas')).toBeVisible();
	await say('lambda.target', ['rpm', 'rpm'], ['map', 'kPa'], 'λ');
	await kept(/Lambda target/);
	// A body alone asks for its axes.
	const { x, y } = item('fuel.table');
	await area.fill(text('fuel.table', { axes: 'without' }));
	const apart = page.getByRole('button', { name: 'the axes are pasted on their own' });
	if (await apart.isVisible()) await apart.click();
	await page.getByLabel('Points of x on their own').fill(x.points.join('\t'));
	await page.getByLabel('Points of y on their own').fill(y.points.join('\n'));
	await say('fuel.table', ['rpm', 'rpm'], ['map', 'kPa'], '%');
	await kept(/Fuel table/);
	const gauge = text('fuel.table', { decimals: 1, y: { channel: 'map', unit: 'psi gauge' } });
	await area.fill(gauge);
	await say('own', ['rpm', 'rpm'], ['boost', 'psi'], '%');
	await page.getByLabel('Name', { exact: true }).fill('second fuel map');
	await kept(/second fuel map/);
	// Out again by two clicks, and by none that was not meant.
	const out = page.getByRole('button', { name: 'Take second fuel map out' });
	await out.click();
	await page.getByRole('alertdialog').getByRole('button', { name: 'Cancel' }).click();
	await expect(out, await shown()).toBeVisible();
	await out.click();
	await page.getByRole('alertdialog').getByRole('button', { name: 'Take it out' }).click();
	await expect(out, await shown()).toBeHidden();
	await area.fill(gauge);
	await say('own', ['rpm', 'rpm'], ['boost', 'psi'], '%');
	await page.getByLabel('Name', { exact: true }).fill('second fuel map');
	await kept(/second fuel map/);
	await area.fill(text('injector.deadTime'));
	await say('injector.deadTime', ['vbat', 'V'], undefined, 'ms');
	await kept(/dead time/i);
	await area.fill('Rev limit\t7200\trpm\nInjector flow\t640\tcc/min\n');
	await page.getByLabel('Rev limit is').selectOption('limit.rpm');
	await page.getByLabel('Injector flow is').selectOption('injector.flow');
	await kept(/Rev limit/);
	const r0 = parseCalibration(
		await (await page.request.get(`${new URL(page.url()).origin}/api/v1/revisions/1/calibration`)).json()
	);
	const values = (c: Calibration, id: string) => (c.items.find((i) => i.id === id) as MapItem).values;
	for (const id of ['fuel.table', 'spark.table', 'lambda.target'])
		values(r0, id).forEach((row, r) =>
			row.forEach((v, c) => expect(v).toBeCloseTo(values(base, id)[r]![c]!, 2))
		);
	expect(r0.items.find((i) => i.id === 'second fuel map')).toMatchObject({
		y: { channel: 'boost', unit: 'psi' }
	});

	// A log, made with what the car has; the proposal; a draft.
	await page.getByRole('link', { name: 'Done' }).click();
	await arrived(page, /\/jobs\/1$/);
	await page.locator('input[type=file]').setInputFiles({
		name: 'first.csv',
		mimeType: 'text/csv',
		buffer: Buffer.from(drive(vehicle, base, {}, 301))
	});
	await page.locator('a.button[title="first.csv"]').click();
	await page.getByRole('button', { name: 'Propose next revision' }).click();
	await page
		.getByRole('button', { name: /^Accept \d+ cells$/ })
		.first()
		.click();
	await expect(page.locator('[data-saving=saved]')).toBeVisible();
	await page.getByRole('button', { name: 'Review release' }).click();
	await expect(page.getByText('No closed file.', { exact: true })).toBeVisible();
	await expect(page.getByText('Not proved.', { exact: true })).toBeVisible();

	// Carried over: what is copied is what is pasted into the program, and what comes back is held against the revision.
	await page.getByRole('link', { name: /Copy the tables to your program/ }).click();
	await arrived(page, /\/carry$/);
	const line = page.locator('[data-item="fuel.table"]');
	const round = line.getByRole('button', { name: /what it holds becomes/ });
	if (await round.isVisible()) await round.click();
	await line.getByRole('button', { name: 'Copy', exact: true }).click();
	await expect(line.getByText('✓ copied')).toBeVisible();
	const copied = await page.evaluate(() => navigator.clipboard.readText());
	expect(copied.split('\n')[0]!.split('\t')).toHaveLength(
		x.points.length + (copied.startsWith('\t') ? 1 : 0)
	);
	const back = async (pasted: string) => {
		await line.getByRole('button', { name: 'Paste back' }).click();
		await line.getByLabel(/Out of the file/).fill(pasted);
		await line.getByRole('button', { name: /Hold it against R1/ }).click();
	};
	const rows = copied.trimEnd().split('\n');
	const cells = rows[3]!.split('\t');
	cells[4] = String(Number(cells[4]) + 1);
	await back([...rows.slice(0, 3), cells.join('\t'), ...rows.slice(4)].join('\n'));
	await expect(line.getByText('differs', { exact: true })).toBeVisible();
	await expect(line.getByRole('table', { name: /What differs/ }).locator('tbody tr')).toHaveCount(1);
	await back(tableText(r0, tableLayoutSchema.parse({ item: 'fuel.table', decimals: 3, x, y })));
	await expect(line.getByText(/It is the table of R0/)).toBeVisible();
	await back(copied);
	await expect(line.getByText(/^verified, \d+ cells$/)).toBeVisible();

	// Released with the reasons that are left; the next log comes in.
	await page.getByRole('link', { name: 'Review release' }).click();
	await expect(page.getByLabel(/Why it may go out/).first()).toBeVisible();
	for (const reason of await page.getByLabel(/Why it may go out/).all())
		await reason.fill('the flash file follows tonight, the other tables were not touched');
	await page.getByRole('button', { name: 'Release R1' }).click();
	await page.getByRole('button', { name: 'Send R1' }).click();
	await expect(page.getByText('R1 sent, not confirmed').first()).toBeVisible();

	// The file follows after the release, with the word that somebody has looked; nothing of before proves it.
	await at(page, '/jobs/1/revisions/2');
	await page.getByText('Attach a file to R1').click();
	await page.getByLabel('File', { exact: true }).setInputFiles({
		name: 'tune-r1.bin',
		mimeType: 'application/octet-stream',
		buffer: Buffer.from('closed')
	});
	await page.getByLabel('For controller hardware').fill('H-4410');
	await expect(page.getByRole('button', { name: 'Attach', exact: true })).toBeDisabled();
	await page.getByLabel(/It holds what the tables say/).check();
	await page.getByRole('button', { name: 'Attach', exact: true }).click();
	await expect(page.getByText(/A file for the wrong controller never goes out/)).toBeVisible();
	await page.getByLabel('For controller hardware').fill('Lumen C4');
	await page.getByRole('button', { name: 'Attach', exact: true }).click();
	const files = page.getByLabel('Closed files');
	await expect(files.getByText('tune-r1.bin', { exact: true })).toBeVisible();
	await expect(files.getByText('The tables stay here.')).toBeVisible();
	await expect(files.getByText(/after the release/)).toBeVisible();
	await expect(files.getByText('Not proved.')).toBeVisible();
	// One table from disk against the revision.
	await at(page, '/jobs/1/compare?a=2&b=2');
	await page.getByRole('button', { name: 'A table after R1' }).click();
	await page.getByLabel('Table of R1').selectOption('fuel.table');
	await page
		.getByLabel(/Pasted from your own program/)
		.fill([...rows.slice(0, 3), cells.join('\t'), ...rows.slice(4)].join('\n'));
	await page.getByRole('button', { name: 'Set it against R1' }).click();
	await expect(
		page.getByRole('heading', { name: /The pasted table against R1: 1 item differs/ })
	).toBeVisible();
	// A table that was forgotten is added by the next draft, and the comparison says so.
	await at(page, '/jobs/1/revisions/2');
	await page.getByRole('button', { name: 'Start a draft from it' }).click();
	await page.getByRole('link', { name: 'Add a table' }).click();
	await expect(page.getByText(/What you paste here is added to/)).toBeVisible();
	await page.getByLabel(/Tables as files/).setInputFiles({
		name: 'boost.target.csv',
		mimeType: 'text/csv',
		buffer: Buffer.from('2000,3000,4000\n150,170,180\n')
	});
	await expect(page.locator('label', { hasText: /^It is/ }).getByRole('combobox')).toHaveValue(
		'boost.target'
	);
	await page.getByLabel('Why it is added').fill('was in the file all along');
	await page.getByRole('button', { name: 'Save and next' }).click();
	await expect(page.getByText(/is in R2\.$/)).toBeVisible();
	await page.getByRole('link', { name: 'the draft R2' }).click();
	await expect(page.getByRole('button', { name: /^Boost target/ })).toBeVisible();
	await page.getByRole('button', { name: 'Compare with R1' }).click();
	await expect(page.getByText('the item is new')).toBeVisible();
	await page.getByRole('link', { name: 'Open R2' }).click();
	// The page before has a button of the same name.
	await page.waitForURL(/\/revisions\/\d+$/);
	await page.getByRole('button', { name: /^Boost target/ }).click();
	await edit(page, 'Remove this table');
	await expect(page.getByRole('button', { name: /^Boost target/ })).toBeHidden();
	await expect(page.locator('[data-saving=saved]')).toBeVisible();
	await more(page, 'Discard draft');
	await page.getByRole('button', { name: 'Discard the draft' }).click();
	await at(page, '/jobs/1');
	const r1 = parseCalibration(
		await (await page.request.get(`${new URL(page.url()).origin}/api/v1/revisions/2/calibration`)).json()
	);
	const inCar = {
		...base,
		items: base.items.map((i) => (i.id === 'fuel.table' ? { ...i, values: values(r1, 'fuel.table') } : i))
	} as Calibration;
	await page.locator('input[type=file]').setInputFiles({
		name: 'second.csv',
		mimeType: 'text/csv',
		buffer: Buffer.from(drive(vehicle, inCar, {}, 302))
	});
	await page.locator('a.button[title="second.csv"]').click();
	await expect(page.getByText(/worked/i).first()).toBeVisible();
	await context.close();
});
