/** A day's work: ten jobs from the queue by keys alone, each from its verdict to a revision that is sent or a log that is asked for again. */
import { expect, test, type Page } from '@playwright/test';
import { driveLog as drive } from '../../src/core/simulator/drive-log.ts';
import { stories } from '../../scripts/demo/world.ts';
import { createTuner, openAccounts } from '../../src/lib/server/auth/accounts.ts';
import { connect, migrate, type Db } from '../../src/lib/server/db/open.ts';
import { createJob } from '../../src/lib/server/jobs/jobs.ts';
import { renewLink } from '../../src/lib/server/jobs/links.ts';
import { BuiltServer } from './built-server.ts';
import { arrived } from './page.ts';
import { allScreened, begin, send } from './pieces.ts';

const JOBS = 10;
/** Every fifth log is too short to tell anything. */
const SHORT = (n: number) => n % 5 === 4;
const MOST_KEYS = 25;
const TUNER = {
	name: 'Odd Tuner',
	email: 'odd@tuner.example',
	password: 'a long enough pass phrase',
	role: 'owner' as const
};

let server: BuiltServer;
let db: Db;

test.beforeAll(async () => {
	test.setTimeout(180_000);
	server = await BuiltServer.on();
	db = connect(server.folder);
	await migrate(db);
	await createTuner(await openAccounts(db, server.folder), TUNER);
	const tow = stories().find((s) => s.title.startsWith('Drover'))!;
	const links: string[] = [];
	for (let n = 0; n < JOBS; n++) {
		const job = await createJob(db, { ...tow, customer: `Customer ${n}`, title: `Job ${n}` });
		links.push(`${server.address}/c/${await renewLink(db, server.folder, job)}`);
	}
	await server.start();
	const whole = drive(tow.vehicle, tow.calibration, {}, 31);
	for (const [n, link] of links.entries()) {
		// Another file each: the same bytes would be taken for the same log.
		const text = `${whole.slice(0, SHORT(n) ? 60_000 : undefined).replace(/\n[^\n]*$/, '\n')}`;
		const bytes = Buffer.from(text);
		const upload = await begin(link, `job-${n}.csv`, bytes.length);
		expect((await send(upload, bytes, 0)).status).toBe(200);
	}
	await allScreened(db, JOBS);
});
test.afterAll(async () => {
	await db?.destroy();
	await server?.remove();
});

/** Keys that were pressed since the last count; letters of text aren't keys of the interface. */
class Keys {
	pressed = 0;
	constructor(private readonly page: Page) {}
	async press(key: string): Promise<void> {
		this.pressed++;
		await this.page.keyboard.press(key);
	}
}

test('ten jobs are worked from the queue by keys alone, each in fewer than 25 keys and its words', async ({
	page
}) => {
	test.setTimeout(240_000);
	await page.goto(`${server.address}/sign-in`);
	await page.locator('input[name=email]').fill(TUNER.email);
	await page.locator('input[name=password]').fill(TUNER.password);
	await page.locator('input[name=password]').press('Enter');
	await page.getByRole('link', { name: 'New job' }).first().waitFor();
	const counts: number[] = [];
	let sent = 0;
	let asked = 0;
	for (let n = 0; n < JOBS; n++) {
		const keys = new Keys(page);
		if (n > 0) await keys.press('q');
		await arrived(page, `${server.address}/`);
		await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
		await keys.press('l');
		await arrived(page, /\/logs\/\d+$/);
		// The tuner sees that there was no full throttle in it, and doesn't guess.
		const short = await page
			.getByText(/no full throttle/)
			.first()
			.isVisible();
		await keys.press(short ? 'w' : 'r');
		if (short) {
			await expect(page.getByLabel('To the customer')).toBeFocused();
			await page.keyboard.type('The log is too short. ');
			await keys.press('Control+Enter');
			await expect(page.getByLabel('Ask for another log')).toHaveCount(0);
			asked++;
		} else {
			await arrived(page, /\/revisions\/\d+$/);
			await keys.press('a');
			await expect(page.locator('[data-saving=saved]')).toBeVisible();
			await expect(page.getByRole('button', { name: 'Review release' })).toBeEnabled();
			await keys.press('c');
			await arrived(page, /\/compare/);
			await keys.press('r');
			await arrived(page, /\/release$/);
			const holds = await page.locator('input[name^="hold:"]').count();
			if (holds > 0) {
				await keys.press('e');
				await expect(page.locator('input[name^="hold:"]').first()).toBeFocused();
				await page.keyboard.type('the table is corrected from what was measured, full load comes next');
				// Out of the field, so that keys are keys again.
				await keys.press('Escape');
				if (holds > 1) await keys.press('s');
			}
			await keys.press('e');
			await expect(page.getByRole('button', { name: /^Release R1/ })).toBeFocused();
			await keys.press('Enter');
			await expect(page.getByRole('button', { name: 'Send R1' })).toBeFocused();
			await keys.press('Enter');
			await expect(page.getByText('R1 sent, not confirmed').first()).toBeVisible();
			sent++;
		}
		counts.push(keys.pressed);
	}
	expect(Math.max(...counts), `keys of each job: ${counts.join(', ')}`).toBeLessThan(MOST_KEYS);
	expect([sent, asked]).toEqual([JOBS - 2, 2]);
	// Nothing of it waits for the tuner any more.
	await page.keyboard.press('q');
	await expect(page.getByRole('heading', { level: 1 })).toHaveText('Nothing waits for you');
	const released = await db.selectFrom('revisions').select('id').where('state', '=', 'released').execute();
	expect(released).toHaveLength(sent);
});
