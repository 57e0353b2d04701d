/** Dry nitrous: the page with every solenoid duty, and the proposal that comes from it. */
import { csvOf } from '../../src/core/logfile/write.ts';
import { handMade, pullShapes, vehicleWith, type Shape } from '../../src/core/testing/hand-made.ts';
import { expect, open, tab, test } from './page.ts';

/** g/s of a pound an hour. */
const LB = 0.126;
const inPull = (t: number) => t >= 10 && t < 16;
/** The same pull twice, the first with nitrous: base 215, adder 70, and 302 lb/h that flowed (common practice: the adder is 17 short). */
function log(): string {
	const [first, again] = [pullShapes(10), pullShapes(30)];
	const both = Object.fromEntries(
		Object.keys(first).map((id): [string, Shape] => [id, (t) => (t < 25 ? first[id]!(t) : again[id]!(t))])
	);
	return [
		...csvOf(
			handMade(90, 20, {
				...both,
				nitrousDuty: (t) => (inPull(t) ? 100 : 0),
				fuelFlowBase: () => 215 * LB,
				nitrousFuel: (t) => (inPull(t) ? 70 * LB : 0),
				fuelFlow: (t) => (inPull(t) ? 302 * LB : 215 * LB),
				'lambda.b1': (t) => both['lambda.target']!(t)
			})
		)
	].join('');
}
const json = (name: string, value: unknown) => ({
	name,
	mimeType: 'application/json',
	buffer: Buffer.from(JSON.stringify(value))
});

test('every solenoid duty stands with its adder before and after, and the timing for the shot', async ({
	page
}) => {
	await open(page, '/jobs/new');
	await page.getByLabel('Customer · needed').fill('Tove Lind');
	await page.getByLabel('Job · needed').fill('Nitrous: the adder');
	await page.getByLabel('read from a file').check();
	await page.getByLabel(/Vehicle document/).setInputFiles(
		json('v.json', {
			...vehicleWith({}, { nitrous: { shotHp: 200, kind: 'dry' } }),
			name: 'Tavi Marl 2.0 eighth-mile'
		})
	);
	await page.getByLabel('from a file', { exact: true }).check();
	await page.getByLabel(/becomes R0/).setInputFiles(
		json('r0.json', {
			schema: 'tanto.calibration/1',
			name: 'as received',
			fuelModel: 'speed-density',
			items: [
				{
					id: 'fuel.nitrous',
					kind: 'curve',
					x: { channel: 'nitrousDuty', points: [0, 50, 100] },
					values: [0, 8, 70 * LB],
					decimals: 2
				},
				{ id: 'spark.nitrous', kind: 'scalar', value: -6 }
			]
		})
	);
	await page.getByRole('button', { name: 'Create job' }).click();
	await expect(page.getByRole('heading', { name: 'Nitrous: the adder' })).toBeVisible();
	await page.locator('input[type=file]').setInputFiles({
		name: 'with-nitrous.csv',
		mimeType: 'text/csv',
		buffer: Buffer.from(log())
	});
	await page.locator('a.button[title="with-nitrous.csv"]').click();
	await tab(page, 'Nitrous');
	const table = page.getByRole('region', { name: 'Adder by solenoid duty' });
	// 70 lb/h are 8.82 g/s, 87 are 10.96; 2° for each 50 hp are 8°, and 6 come out.
	const full = table.getByRole('row', { name: /^100 / });
	await expect(full).toContainText('8.82');
	await expect(full).toContainText('10.96');
	await expect(full.getByText('6.0', { exact: true })).toHaveClass(/text-stop/);
	await expect(table.getByRole('row', { name: /^50 / })).toContainText('nitrous was never on here');
	await expect(table).toContainText('A shot of 200 hp wants 8° out');
	await tab(page, 'Verdict');
	await expect(page.getByTestId('verdict')).toContainText('nitrous');
	// A vehicle without it has no such page in its way.
	await open(page, '/jobs/3/logs/4');
	await expect(page.getByRole('link', { name: 'Delivered' })).toBeVisible();
	await expect(page.getByRole('link', { name: 'Nitrous', exact: true })).toHaveCount(0);
});
