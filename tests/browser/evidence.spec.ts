/** The pages that look into a log: cell map, knock with its proof, sensors, baselines, and the way from job to job. */
import type { Page } from '@playwright/test';
import { csvOf } from '../../src/core/logfile/write.ts';
import { handMade, pullShapes, type Shape } from '../../src/core/testing/hand-made.ts';
import { expect, open, tab, test } from './page.ts';

test('the cell map answers filters at once, leads to the samples behind a cell, and copies as a table', async ({
	page,
	context
}) => {
	await context.grantPermissions(['clipboard-read', 'clipboard-write']);
	await open(page, '/jobs/1/logs/1/map');
	const map = page.getByRole('region', { name: 'Map' });
	const cell = map.locator('[data-cell="6-10"]');
	await expect(cell).toContainText('+3.');
	const samples = async () => Number(/(\d+) samples count/.exec(await map.innerText())?.[1]);
	const all = await samples();
	await page.getByLabel('Under boost').check();
	await expect.poll(samples).toBeLessThan(all / 2);
	// Cruise cells are gone, boosted ones stay.
	await expect(map.locator('[data-cell="6-2"]')).toHaveCount(0);
	await page.getByLabel('Quantity').selectOption('banks');
	await expect(cell).toContainText('+12.');
	await cell.click();
	await expect(page.getByTestId('behind')).toContainText(/Behind 3500 · 140: .*samples/);
	const before = page.getByText(/^\d+:\d\d–\d+:\d\d$/);
	await expect(before).not.toHaveText('0:00–6:33');
	await cell.press('ArrowRight');
	await expect(page.getByTestId('behind')).toContainText('Behind 4000');
	await page.getByRole('button', { name: 'Copy as a table' }).click();
	await expect(page.getByText('Copied')).toBeVisible();
	const text = await page.evaluate(() => navigator.clipboard.readText());
	const lines = text.split('\n').map((l) => l.split('\t'));
	expect(lines[0]![0]).toBe('');
	expect(lines[0]!).toContain('3500');
	expect(Number(lines.find((l) => l[0] === '140')![lines[0]!.indexOf('3500')])).toBeGreaterThan(11);
	await page.getByRole('button', { name: 'Take the filters off' }).click();
	await expect.poll(samples).toBe(all);
});

test('the cell map takes axes of any two channels, and says what is wrong with typed breakpoints', async ({
	page
}) => {
	await open(page, '/jobs/1/logs/1/map');
	await page.getByLabel('Axes').selectOption('own');
	await page.getByLabel('Channel across').selectOption('pedal');
	const points = page.getByLabel('Breakpoints across');
	await points.fill('0 20 10');
	await expect(page.getByRole('alert')).toContainText('breakpoints have to rise: 10 comes after 20');
	await points.fill('0 20 50 100');
	await expect(page.getByRole('alert')).toHaveCount(0);
	await page.getByLabel('Quantity').selectOption('iat');
	const map = page.getByRole('region', { name: 'Map' });
	await expect(map.getByRole('columnheader', { name: '50', exact: true })).toBeVisible();
	await expect(map.locator('caption')).toContainText('Intake air, °C');
	await page.getByRole('radio', { name: 'samples' }).check();
	await expect(map.locator('caption')).toContainText('effective samples');
});

test('knock: episodes with their reason and cell; a proof begins with a log and knows what is still to do', async ({
	page
}) => {
	await open(page, '/jobs/5/logs/6/knock');
	await expect(page.getByTestId('episode')).toContainText(/In the timing table it is the cell \d+ · /);
	const rows = page.getByRole('region', { name: 'Episodes' }).locator('tbody tr');
	expect(await rows.count()).toBeGreaterThan(5);
	await rows.nth(2).getByRole('button').click();
	const peak = await rows.nth(2).locator('td').nth(1).innerText();
	await expect(page.getByTestId('episode')).toContainText(`${peak}°`);
	await page.getByRole('button', { name: /Begin a proof/ }).click();
	await expect(page.getByTestId('proof')).toContainText('Not decided yet: still to do: mixture verified');
	const step = page.getByRole('row', { name: /Mixture verified/ });
	await step.getByRole('button', { name: 'this log is it' }).click();
	await expect(page.getByRole('region', { name: 'Proof' }).getByRole('alert')).toContainText(
		'already stands for another step'
	);
	await page.getByLabel('kPa from').fill('500');
	await page.getByRole('button', { name: /Begin a proof/ }).click();
	await expect(page.getByRole('region', { name: 'Proof' }).getByRole('alert')).toContainText('ends above');
});

test('sensors: every source with its lag, what is believed and why', async ({ page }) => {
	await open(page, '/jobs/1/logs/1/sensors');
	await expect(page.getByTestId('belief')).toContainText('a second opinion is missing');
	const row = page.getByRole('row', { name: /Lambda bank 1/ });
	await expect(row).toContainText('bank 1, controller');
	// The stand-in's sensors answer steps clearly: the lag comes from the log, not from the default curve.
	await expect(row).not.toContainText('default');
	await page.getByRole('link', { name: 'Ask for a second one' }).click();
	await expect(page).toHaveURL(/plan\?add=lambda\.ref/);
});

test('baselines come from a healthy log, ticked one by one', async ({ page }) => {
	await open(page, '/jobs/4/logs/5/readiness');
	await page.getByRole('button', { name: 'Measure them in this log' }).click();
	const idle = page.getByRole('row', { name: /Manifold pressure at idle/ });
	await expect(idle).toBeVisible();
	const measured = await idle.locator('td').last().innerText();
	await idle.getByRole('checkbox').check();
	await page.getByRole('button', { name: 'Take the ticked ones over' }).click();
	await expect(page.getByRole('status').filter({ hasText: 'taken over' })).toBeVisible();
	await open(page, '/jobs/4/vehicle');
	await expect(page.getByLabel('Manifold pressure at idle')).toHaveValue(measured);
});

test('the queue says what changed since the log before, and keys lead from job to job', async ({ page }) => {
	await open(page, '/');
	await expect(page.getByText(/since the log before:/).first()).toBeVisible();
	const links = page.locator('tbody a[id^="job-"]');
	const ids = await links.evaluateAll((list) => list.map((a) => a.id.replace('job-', '')));
	await open(page, `/jobs/${ids[0]}`);
	await page.keyboard.press('J');
	await expect(page).toHaveURL(new RegExp(`/jobs/${ids[1]}(/|$)`));
	await page.keyboard.press('K');
	await expect(page).toHaveURL(new RegExp(`/jobs/${ids[0]}(/|$)`));
	await page.keyboard.press('q');
	await expect(page.getByRole('heading', { level: 1 })).toContainText(/wait|waits/);
});

test('cylinders side by side and upshifts; what the log lacks is one click from the next drive plan', async ({
	page
}) => {
	await open(page, '/jobs/3/logs/4/drivetrain');
	const shifts = page.getByRole('region', { name: 'Upshifts' }).getByRole('row');
	await expect(shifts.filter({ hasText: '5550' })).toContainText('100');
	await tab(page, 'Cylinders');
	await expect(page.getByText('lambda is not logged by cylinder')).toBeVisible();
	await page.getByRole('link', { name: 'lambda by cylinder' }).click();
	await expect(page).toHaveURL(/plan\?add=lambda\.cyl1,lambda\.cyl2/);
});

/** A hand-made log of a minute with one pull, dropped on a job that has no other part in these tests. */
async function drop(page: Page, name: string, shapes: Record<string, Shape>): Promise<void> {
	const text = [...csvOf(handMade(60, 20, shapes))].join('');
	await open(page, '/jobs/4');
	await page
		.locator('input[type=file]')
		.setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
	await page.locator(`a.button[title="${name}"]`).click();
}

test('a log with half of its channels: nothing that was not looked at passes for fine', async ({ page }) => {
	const kept = Object.entries(pullShapes()).filter(([id]) => /^(rpm|map|tps|ect|lambda.b1)$/.test(id));
	await drop(page, 'half.csv', Object.fromEntries(kept));
	await expect(page.getByLabel('Findings')).toContainText('Not logged: knock');
	const reading = page.getByRole('region', { name: 'The log in reading order' });
	for (const section of ['Sensors', 'Cylinders', 'Knock', 'Injectors and supply'])
		await expect(reading.getByRole('button', { name: `not checked ${section}` })).toBeVisible();
	await tab(page, 'Knock');
	await expect(page.getByText('No knock retard is logged.')).toBeVisible();
	await tab(page, 'Readiness');
	await expect(page.getByText("Don't go")).toBeVisible();
});

test('lambda by cylinder: the lean one stands out at its engine speed', async ({ page }) => {
	const inPull = (t: number) => t >= 10 && t < 16;
	const cylinders = [1, 2, 3, 4].map((c): [string, Shape] => [
		`lambda.cyl${c}`,
		(t) => (inPull(t) ? 0.8 * (c === 3 ? 1.06 : 1) : 1)
	]);
	await drop(page, 'cylinders.csv', { ...pullShapes(), ...Object.fromEntries(cylinders) });
	await expect(page.getByText('Cylinder 3 lean against the others').first()).toBeVisible();
	await tab(page, 'Cylinders');
	const table = page.getByRole('table', { name: 'Cylinders' });
	await expect(table.getByRole('row', { name: /^3 / })).toContainText('+6.0');
	await expect(table.getByRole('row', { name: /^2 / })).not.toContainText('+6');
});

test('a reading off a film is typed in, set against the log, and holds fuel that is taken out', async ({
	page
}) => {
	await open(page, '/jobs/2/logs/2/sensors');
	const typed = page.getByRole('region', { name: 'Typed readings' });
	await typed.getByRole('button', { name: 'Type in a reading' }).click();
	await typed.getByLabel('Where').fill('film of the gauge on the pillar');
	await typed.getByLabel(/^Engine speed and value/).fill('4000 12.1\nfive thousand 12');
	await typed.getByRole('button', { name: 'Set it beside the log' }).click();
	await expect(page.getByRole('alert')).toContainText('line 2: write engine speed and value');
	await expect(typed.getByLabel(/^Engine speed and value/)).toHaveValue('4000 12.1\nfive thousand 12');
	await typed.getByLabel(/^Engine speed and value/).fill('4000 16.1\n5000 16.0');
	await typed.getByRole('button', { name: 'Set it beside the log' }).click();
	await expect(typed).toContainText(/Reads [\d.]+ % leaner than the log/);
	await expect(typed.getByRole('row', { name: /^4000/ })).toContainText('+');
	await typed.getByRole('button', { name: 'Remove' }).click();
	await expect(typed).toContainText('Nothing is typed in');
});

test('maxima that the controller kept are typed without a log, stand beside another car, and leave again', async ({
	page
}) => {
	await open(page, '/jobs/6/maxima');
	const row = page.getByRole('row', { name: /Injector duty/ });
	// Typed in the demo world: 94 % here, 81 % on the other car of its kind.
	await expect(row).toContainText('94');
	await expect(row).toContainText('81');
	await page.getByLabel('Injector duty, %').fill('940');
	await page.getByLabel('Read from').fill('the gauge on the pillar');
	await page.getByRole('button', { name: 'Keep reading' }).click();
	await expect(page.getByRole('alert')).toContainText('0 to 200 % can be');
	await expect(page.getByLabel('Injector duty, %')).toHaveValue('940');
	await page.getByLabel('Injector duty, %').fill('71');
	await page.getByRole('button', { name: 'Keep reading' }).click();
	await expect(page.getByRole('status')).toContainText('Kept');
	await expect(page.locator('.page-head')).toContainText('within their limits');
	await expect(page.getByRole('link', { name: /Maxima typed/ })).toHaveCount(2);
	await page
		.getByRole('button', { name: /^Remove the reading/ })
		.first()
		.click();
	await page.getByRole('alertdialog').getByRole('button', { name: 'Remove' }).click();
	await expect(page.locator('.page-head')).toContainText('beyond a limit at fix');
});

test('the file of a second recorder joins a log, is seen to lie on it, and is taken off; one of another drive is refused', async ({
	page
}) => {
	const csv = async (log: number) =>
		(await (await page.request.get(`/api/v1/logs/${log}/export?format=csv`)).text()).trim().split('\n');
	/** An instrument that began `lateS` after the log wrote its engine speed, and a mixture of its own, with a clock that runs 0.2 % fast. */
	const recorded = (rows: string[], lateS: number) => {
		const head = rows[0]!.split(',');
		const [time, rpm] = [head.indexOf('time'), head.indexOf('rpm')];
		return [
			'time,rpm,lambda.ref',
			...rows.slice(1).flatMap((row) => {
				const cells = row.split(',');
				const t = (Number(cells[time]) - lateS) * 1.002;
				return t >= 0 && cells[rpm] ? [`${t.toFixed(3)},${cells[rpm]},0.9`] : [];
			})
		].join('\n');
	};
	const file = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
	await open(page, '/jobs/3/logs/4/sensors');
	const recorders = page.getByRole('region', { name: 'Second recorders' });
	const join = async (name: string, text: string) => {
		await recorders.getByLabel('File of the second recorder').setInputFiles(file(name, text));
		await recorders.getByRole('button', { name: 'Join' }).click();
	};
	await join('another-day.csv', recorded(await csv(5), 0));
	await expect(recorders.getByRole('alert')).toContainText('not of one drive');
	await join('wideband.csv', recorded(await csv(4), 7.3));
	await expect(recorders).toContainText(/7\.[23]\d ± 0\.\d\d s into the\s+log/);
	await expect(recorders).toContainText(/0\.[12]\d ± 0\.\d\d % fast/);
	await expect(recorders.getByRole('img', { name: /A minute of engine speed/ })).toBeVisible();
	// The log is read again with it, and the page shows it by itself: the instrument is a source of its own.
	const sources = page.getByRole('region', { name: 'Each source' });
	await expect(sources).toContainText('Reference lambda', { timeout: 120_000 });
	await expect(page.getByText('This log is being read again.')).toHaveCount(0);
	await recorders.getByRole('button', { name: 'Take it off again' }).click();
	await expect(recorders).not.toContainText('wideband.csv');
});
