/** Pages on the demo world: bad input, keys, themes, units, accessibility, what a stranger gets. */
import type { Route } from '@playwright/test';
import { arrived, expect, open, pick, tab, test } from './page.ts';

test('paper is white and its ink dark, whatever theme the screen has', async ({ page }) => {
	await page.emulateMedia({ colorScheme: 'dark' });
	await open(page, '/jobs/3/logs/4');
	const ink = () => page.evaluate(() => getComputedStyle(document.body).color);
	const night = await ink();
	expect(night).toBe('rgb(233, 228, 216)');
	await page.emulateMedia({ colorScheme: 'dark', media: 'print' });
	expect(await ink()).toBe('rgb(27, 38, 56)');
});

for (const path of [
	'/',
	'/jobs/3',
	'/jobs/3/logs/4',
	'/jobs/3/logs/4/map',
	'/jobs/3/compare',
	'/jobs/new',
	'/planner'
])
	test(`${path} waits for less than 150 kB of script`, async ({ page }) => {
		const links = (await page.request.get(path)).headers()['link'] ?? '';
		const scripts = [...links.matchAll(/<([^>]+)>; rel="modulepreload"/g)].map(
			([, href]) => new URL(href!, new URL(path, 'http://x')).pathname
		);
		expect(scripts.length).toBeGreaterThan(5);
		const bytes: Record<string, number> = {};
		for (const script of scripts) {
			const answer = await page.request.get(script, { headers: { 'accept-encoding': 'br' } });
			expect(answer.headers()['content-encoding'] ?? 'none').toMatch(/^(br|none)$/);
			bytes[script] = Number(answer.headers()['content-length']);
		}
		const total = Object.values(bytes).reduce((sum, b) => sum + b, 0);
		expect(total, JSON.stringify(bytes, null, 1)).toBeLessThan(150_000);
	});

test('a new job says all that is wrong at once, each at its field, and keeps what was entered', async ({
	page
}) => {
	await open(page, '/jobs/new');
	await page.getByLabel('Mail address').fill('nobody');
	await page.getByLabel(/^Cylinders · needed/).fill('six');
	await page.getByLabel(/^Tyre/).fill('225/45 R17');
	await page.getByRole('button', { name: 'Create job' }).click();
	await expect(page.getByRole('alert')).toContainText('6 fields need another look');
	const customer = page.getByLabel('Customer · needed');
	await expect(customer).toBeFocused();
	await expect(customer).toHaveAccessibleDescription('the customer needs a name');
	await expect(page.getByLabel('Mail address')).toHaveAccessibleDescription(/no mail address/);
	const cylinders = page.getByLabel(/^Cylinders · needed/);
	await expect(cylinders).toHaveAccessibleDescription('"six" is not a number');
	await expect(cylinders).toHaveValue('six');
	await expect(page.getByLabel(/^Rev limit/)).toHaveAccessibleDescription('is needed');
	await expect(page.getByLabel(/^Tyre/)).toHaveAccessibleDescription('');
	await cylinders.fill('6');
	await expect(cylinders).toHaveAccessibleDescription('');
	await page.getByRole('radio', { name: 'from a file', exact: true }).check();
	await customer.fill('Fields');
	await page.getByLabel('Job · needed').fill('At their place');
	await page.getByLabel('Mail address').fill('');
	await page.getByLabel(/^Vehicle · needed/).fill('Six');
	await page.getByLabel(/^Rev limit/).fill('7000');
	await page.getByRole('button', { name: 'Create job' }).click();
	await expect(page.getByRole('alert')).toContainText('choose the file with the calibration');
	await page.getByLabel(/^tables from my own program/).check();
	await page.getByRole('button', { name: 'Create job' }).click();
	await expect(page).toHaveURL(/\/jobs\/\d+\/tables$/);
});

test('the queue puts stops first and is walked by keys', async ({ page }) => {
	await open(page, '/');
	await expect(page.getByText(/\d at stop/)).toBeVisible();
	await expect(page.locator('tbody tr').first()).toContainText('stop');
	await page.keyboard.press('j');
	await expect(page.locator('tbody a[id^=job-]').nth(1)).toBeFocused();
	await page.keyboard.press('Control+k');
	await page.keyboard.type('New job');
	await page.keyboard.press('Enter');
	await expect(page).toHaveURL('/jobs/new');
});

test('keys work on a page that was come to by a link', async ({ page }) => {
	await open(page, '/jobs/3');
	await page
		.getByRole('link', { name: /^R0, .*full throttle/ })
		.first()
		.click();
	await expect(page.locator('section[aria-label="Traces"]')).toHaveAttribute('data-ready', 'true');
	await page.keyboard.press('f');
	await expect(page.locator('article').first()).toContainText('Usual causes');
	await page.keyboard.press('h');
	await expect(page.getByRole('heading', { name: 'Drover: smooth towing' })).toBeVisible();
});

test('a link that is followed while the page loads its data anew is followed all the same', async ({
	page
}) => {
	const late = (ms: number) => async (route: Route) => {
		await new Promise((r) => setTimeout(r, ms));
		await route.continue();
	};
	// Longer than the page waits between two looks for news: neither those nor the answer to the form may hold it up.
	await page.route('**/jobs/4/plan/__data.json**', late(5000));
	await page.route((url) => url.search.startsWith('?/'), late(500));
	await open(page, '/jobs/4');
	await page.getByLabel('Note or message').fill('asked twice for the wideband');
	await page.getByRole('button', { name: 'Keep as a note' }).click();
	await page
		.getByRole('navigation', { name: 'Sections of the job' })
		.getByRole('link', { name: /^Plan/ })
		.click();
	await expect(page).toHaveURL(/jobs\/4\/plan$/);
	await expect(page.getByRole('heading', { level: 2 }).first()).toBeVisible();
});

test('what is typed before the scripts have come stays', async ({ page }) => {
	let free: () => void = () => undefined;
	await page.route('**/_app/**/*.js', async (route) => {
		await new Promise<void>((r) => {
			const before = free;
			free = () => (before(), r());
		});
		await route.continue();
	});
	for (const path of [
		'/jobs/new',
		'/jobs/1',
		'/jobs/1/vehicle',
		'/jobs/1/limits',
		'/customers/1',
		'/jobs/3/fuel'
	]) {
		await page.goto(path, { waitUntil: 'commit' });
		await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
		const fields = page.locator('input[type=text]:visible, input:not([type]):visible, textarea:visible');
		const some = Math.min(await fields.count(), 3);
		expect(some, path).toBeGreaterThan(0);
		for (let n = 0; n < some; n++) await fields.nth(n).fill(`${n + 7}`);
		const going = setInterval(() => free(), 50);
		await arrived(page);
		clearInterval(going);
		for (let n = 0; n < some; n++) await expect(fields.nth(n), `${path}, ${n}`).toHaveValue(`${n + 7}`);
	}
});

test('a finding opens with its rule and zooms the traces to its moment', async ({ page }) => {
	await open(page, '/jobs/2/logs/2');
	await expect(page.locator('section[aria-label="Traces"]')).toHaveAttribute('data-ready', 'true');
	await page.keyboard.press('f');
	const card = page.getByLabel('Findings').locator('article', { hasText: 'Knock that climbs: real' });
	await expect(card).toContainText('Rule “Knock”');
	await expect(card).toContainText('Usual causes');
	await expect(page.locator('section[aria-label="Traces"]')).toContainText('Knock retard');
	await expect(page.getByRole('button', { name: 'Whole log' })).toBeVisible();
});

test('a car that came back with the old file in it is found out, until the log is stated right', async ({
	page
}) => {
	await open(page, '/');
	await page.getByRole('link', { name: 'Marl 1.8: came back with the old file in it' }).click();
	await page.getByRole('link', { name: 'Open newest log' }).click();
	await expect(page.getByTestId('verdict')).toContainText('Stop: wrong revision in the car: R0');
	await page.getByLabel('made with').selectOption('R0');
	await expect(page.getByTestId('verdict')).not.toContainText('Wrong revision', {
		ignoreCase: true
	});
	await page.getByRole('button', { name: /Fit to judge/ }).click();
	await expect(page.getByText('R0 explains the log')).toBeVisible();
	await expect(page.getByText('Wrong revision in the car')).toHaveCount(0);
});

test('units change everywhere at once and are remembered', async ({ page }) => {
	await open(page, '/jobs/1/logs/1');
	await page.getByRole('button', { name: /Units and theme/ }).click();
	await page.getByLabel('Pressure', { exact: true }).selectOption('psi');
	await page.keyboard.press('Escape');
	await expect(page.getByRole('columnheader', { name: 'Pressure, psi' }).first()).toBeVisible();
	await page.reload();
	await expect(page.getByRole('columnheader', { name: 'Pressure, psi' }).first()).toBeVisible();
});

test('a column that was not recognised is assigned, screened again and remembered', async ({ page }) => {
	const rows = Array.from(
		{ length: 400 },
		(_, i) => `${i / 20},${2000 + i},60,20,1.0,88,${12.1 + (i % 3) / 10}`
	).join('\n');
	const text = `Time (s),Engine Speed (rpm),Manifold Pressure (kPa),Throttle (%),Lambda Bank 1 (λ),Coolant Temp (°C),Juice (V)\n${rows}\n`;
	await open(page, '/jobs/6');
	await page
		.locator('input[type=file]')
		.setInputFiles({ name: 'odd.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
	await page
		.getByRole('row', { name: /odd\.csv.*screened/ })
		.getByRole('link')
		.click();
	await expect(page.getByText('5 channels, 1 not recognised')).toBeVisible();
	await tab(page, 'Channels');
	await page.getByLabel('Channel for Juice').selectOption('Battery');
	await page.getByRole('button', { name: 'Assign' }).click();
	await expect(page.getByRole('row', { name: /Battery.*Juice.*assigned by hand/ })).toBeVisible();
	await open(page, '/jobs/6');
	await page.locator('input[type=file]').setInputFiles({
		name: 'odd2.csv',
		mimeType: 'text/csv',
		buffer: Buffer.from(text.replace('2000', '2001'))
	});
	await page
		.getByRole('row', { name: /odd2\.csv.*screened/ })
		.getByRole('link')
		.click();
	await expect(page.getByText('6 channels', { exact: true })).toBeVisible();
});

test.describe('bad input gets one clear message', () => {
	const LOGS: [string, string, string][] = [
		['photo.csv', `\u0000\u0001\u0002${'\u0000'.repeat(400)}`, 'binary file'],
		['header-only.csv', 'Time (s),RPM (rpm),MAP (kPa)\n', 'no row of data'],
		['words.csv', 'dear tuner, here is my log\nsee you\n', 'no row of data'],
		[
			'ragged.csv',
			`Time,RPM,MAP\n${Array.from({ length: 30 }, (_, i) => (i % 2 ? '1,2' : '1,2,3')).join('\n')}\n`,
			"don't have the 3 cells"
		]
	];
	for (const [name, text, message] of LOGS)
		test(name, async ({ page }) => {
			await open(page, '/jobs/6');
			await page
				.locator('input[type=file]')
				.setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
			const row = page.getByRole('row', { name: new RegExp(name.replace('.', '\\.')) });
			await expect(row.getByText(message)).toBeVisible();
			await row.getByRole('link').click();
			await expect(page.getByRole('alert')).toContainText(message);
			await page.getByRole('button', { name: 'Delete it' }).click();
			await expect(page.getByText(name)).toHaveCount(0);
		});

	test('an empty file is not stored at all', async ({ page }) => {
		await open(page, '/jobs/6');
		await page
			.locator('input[type=file]')
			.setInputFiles({ name: 'empty.csv', mimeType: 'text/csv', buffer: Buffer.alloc(0) });
		await expect(page.getByRole('alert')).toContainText('the file is empty');
		await page.reload();
		await expect(page.getByText('empty.csv')).toHaveCount(0);
	});

	test('a calibration with axes that fall names the place, and keeps what was entered', async ({ page }) => {
		await open(page, '/jobs/new');
		await page.getByLabel('Customer · needed').fill('Mira Tarn');
		await page.getByLabel('Job · needed').fill('Broken file');
		await page.getByLabel('Vehicle · needed').fill('Some car');
		await page.getByLabel('Cylinders · needed').fill('4');
		await page.getByLabel('Rev limit, rpm · needed').fill('7000');
		const calibration = {
			schema: 'tanto.calibration/1',
			name: 'x',
			fuelModel: 'speed-density',
			items: [
				{
					id: 'fuel.table',
					kind: 'map',
					x: { channel: 'rpm', points: [1000, 900] },
					y: { channel: 'map', points: [50] },
					values: [[1, 2]]
				}
			]
		};
		await page.getByLabel('from a file', { exact: true }).check();
		await page.getByLabel(/becomes R0/).setInputFiles({
			name: 'broken.json',
			mimeType: 'application/json',
			buffer: Buffer.from(JSON.stringify(calibration))
		});
		await page.getByRole('button', { name: 'Create job' }).click();
		await expect(page.getByRole('alert')).toContainText(
			'broken.json: items[0].x.points[1]: axis points have to rise: 900 comes after 1000'
		);
		await expect(page.getByLabel('Customer · needed')).toHaveValue('Mira Tarn');
		await open(page, '/');
		await expect(page.getByText('Broken file')).toHaveCount(0);
	});
});

test('a pull is laid over one of an earlier log by engine speed', async ({ page }) => {
	await open(page, '/jobs/3/logs/4');
	await pick(page.getByLabel('Overlay', { exact: true }), /^R0, .*: pull 1, gear 3/);
	await expect(page.getByText('bank 1, the other')).toBeVisible();
	await page.getByLabel('Overlay', { exact: true }).selectOption('');
	await expect(page.getByText('bank 1, the other')).toHaveCount(0);
});

test('the log in reading order: a section opens, what is missing is asked for with one click', async ({
	page
}) => {
	await open(page, '/jobs/1/logs/1');
	const sections = page.getByLabel('The log in reading order');
	await expect(sections.getByRole('button', { name: /^stop Banks/ })).toContainText('Bank 2 needs');
	await sections.getByRole('button', { name: /Mixture/ }).click();
	await expect(sections).toContainText('Lambda target: Leanest target');
	await sections.getByRole('link', { name: 'ask for modelled air flow' }).click();
	await expect(page.getByText('One channel that checks wait for is asked for')).toBeVisible();
	await expect(page.getByRole('button', { name: "Don't ask for Modelled air flow" })).toBeVisible();
});

test('a finding is answered with a reason, keeps it in the next log, and the readiness sheet says go or not', async ({
	page
}) => {
	await open(page, '/jobs/7/logs/7');
	await page.keyboard.press('f');
	const card = page.locator('article').first();
	await card.getByRole('button', { name: 'Answer' }).click();
	await card.getByRole('combobox').selectOption('resolved');
	await card.getByLabel(/^Why/).fill('R1 corrects the table there');
	await card.getByRole('button', { name: 'Save' }).click();
	await expect(card).toContainText('Resolved by Sable Orrin');
	await open(page, '/jobs/7/logs/8');
	await expect(page.getByTestId('since')).toContainText('Since R0, ');
	await page.keyboard.press('f');
	await page.keyboard.press('f');
	const again = page.locator('article', { hasText: 'It stood in earlier logs' }).first();
	await expect(again).toContainText(/It stood in earlier logs: R0, .*\((stop|fix|watch), [\d.]+°\)/);
	await expect(again).toContainText('R1 corrects the table there');
	await open(page, '/jobs/1/logs/1');
	await tab(page, 'Readiness');
	await expect(page.getByTestId('go')).toContainText("Don't go: Bank 2 needs");
	await expect(page.getByRole('row', { name: /Coolant/ })).toContainText('at warm idle');
});

test('the owner chooses how the workshop works; what is planned next follows it and says so', async ({
	page
}) => {
	await open(page, '/ways');
	await expect(page.getByRole('row', { name: /Two sensors that disagree/ })).toContainText('not a choice');
	await page.getByRole('radio', { name: /full throttle first/ }).check();
	await page.getByRole('button', { name: 'Save' }).click();
	await expect(page.getByRole('status')).toContainText('Kept');
	await open(page, '/jobs/7/plan');
	await expect(page.getByText('by the workshop’s ways of working')).toBeVisible();
	await expect(page.getByRole('radio', { name: /Full-throttle pull/ })).toBeChecked();
});

test('strangers and wrong addresses get nothing', async ({ page, request }) => {
	for (const path of ['/jobs/999', '/jobs/1/logs/2', '/jobs/1/revisions/5', '/c/not-a-token', '/jobs/x'])
		expect((await request.get(path)).status(), path).toBe(404);
	expect((await request.post('/c/not-a-token/uploads', { headers: { 'upload-length': '4' } })).status()).toBe(
		404
	);
	expect((await request.get('/c/not-a-token/calibration')).status()).toBe(404);
	await open(page, '/c/not-a-token');
	await expect(page.getByText('This link does not work any more')).toBeVisible();
	const headers = (await request.get('/')).headers();
	expect(headers['content-security-policy']).toContain("script-src 'self'");
	expect(headers['content-security-policy']).not.toMatch(/script-src[^;]*unsafe-inline/);
	expect(headers['x-content-type-options']).toBe('nosniff');
});

test('a released revision is frozen', async ({ request }) => {
	const answer = await request.put('/api/v1/revisions/5/changes', {
		data: { job: 4, version: 0, changes: [] }
	});
	expect(answer.status()).toBe(400);
	expect((await answer.json()).message).toContain("can't be changed");
});

test('a drive plan of own steps is joined, reordered, kept for other vehicles and taken away again', async ({
	page
}) => {
	await open(page, '/jobs/3/plan?template=bank-swap');
	const steps = page.getByRole('main').locator('ol > li');
	await expect(steps).toHaveCount(4);
	await page.getByLabel('Join another plan').selectOption({ label: 'Full-throttle pull' });
	await expect(steps.last()).toContainText('Full throttle');
	await page.getByLabel('Add a step').selectOption({ label: 'Start' });
	const count = await steps.count();
	await page.getByRole('button', { name: `Move step ${count} up` }).click();
	await expect(steps.nth(count - 2)).toContainText('Start');
	await page.getByLabel('Words for step 1').fill('Behind the workshop, engine warm.');
	await page.getByLabel('Words for step 1').blur();
	await page.getByLabel('Keep this plan for other vehicles, as').fill('Swap and pull');
	const pull = page.getByLabel(`Words for step ${count}`);
	const words = await pull.inputValue();
	await pull.fill('Full throttle, as always.');
	await pull.blur();
	await page.getByRole('button', { name: 'Keep plan' }).click();
	await expect(page.getByRole('alert')).toContainText(
		'gears and engine speeds are filled in for each vehicle'
	);
	await pull.fill(`Windows shut. ${words}`);
	await pull.blur();
	await page.getByRole('button', { name: 'Keep plan' }).click();
	await expect(page.getByRole('status')).toContainText('“Swap and pull” is kept');
	// Another car: its own gears and engine speeds.
	await open(page, '/jobs/1/plan');
	await page.getByRole('radio', { name: /^Swap and pull/ }).check();
	await expect(page).toHaveURL(/own=Swap/);
	await expect(steps).toHaveCount(count);
	await expect(page.getByLabel('Words for step 1')).toHaveValue('Behind the workshop, engine warm.');
	await page.getByRole('button', { name: 'Remove the plan Swap and pull' }).click();
	await page.getByRole('alertdialog').getByRole('button', { name: 'Remove' }).click();
	await expect(page.getByRole('radio', { name: /^Swap and pull/ })).toHaveCount(0);
});
