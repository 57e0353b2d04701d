/** Every job of the demo world goes out as one archive and into an empty Tanto: nothing of it is lost on the way, there and back. */
import { readFileSync } from 'node:fs';
import { strFromU8, unzipSync } from 'fflate';
import type { APIRequestContext } from '@playwright/test';
import type { ArchiveRecord } from '../../src/lib/server/archive/open.ts';
import { createTuner, openAccounts } from '../../src/lib/server/auth/accounts.ts';
import { connect, migrate, type Db } from '../../src/lib/server/db/open.ts';
import { comparable } from '../../src/lib/server/testing/same-record.ts';
import { BuiltServer } from './built-server.ts';
import { allScreened } from './pieces.ts';
import { expect, open, test } from './page.ts';

const TUNER = {
	name: 'Odd Tuner',
	email: 'odd@tuner.example',
	password: 'a long enough pass phrase',
	role: 'owner' as const
};
const recordOf = (zip: Buffer) =>
	JSON.parse(
		strFromU8(unzipSync(new Uint8Array(zip), { filter: (f) => f.name === 'record.json' })['record.json']!)
	) as ArchiveRecord;

async function archiveOf(request: APIRequestContext, server: string, job: number): Promise<Buffer> {
	const answer = await request.get(`${server}/api/v1/jobs/${job}/archive`);
	expect(answer.status()).toBe(200);
	return answer.body();
}

test('every job of the demo world is the same in another Tanto', async ({ request, server, browser }) => {
	test.setTimeout(400_000);
	const other = await BuiltServer.on();
	const here: Db = connect(server.folder);
	const there: Db = connect(other.folder);
	try {
		await migrate(there);
		await createTuner(await openAccounts(there, other.folder), TUNER);
		await other.start();
		const page = await browser.newPage();
		await page.goto(`${other.address}/sign-in`);
		await page.getByLabel('Mail address').fill(TUNER.email);
		await page.getByLabel('Password').fill(TUNER.password);
		await page.getByRole('button', { name: 'Sign in' }).click();
		await expect(page.getByRole('link', { name: 'New job' }).first()).toBeVisible();
		const jobs = await here.selectFrom('jobs').select(['id', 'title']).orderBy('id').execute();
		expect(jobs.length).toBeGreaterThan(10);
		const sent = new Map<number, ArchiveRecord>();
		// Backwards, so that no number is the same by chance.
		for (const { id, title } of jobs.reverse()) {
			const zip = await archiveOf(request, server.address, id);
			const taken = await page.request.put(`${other.address}/api/v1/archives`, {
				data: zip,
				headers: { 'content-type': 'application/zip' }
			});
			expect(taken.status(), title).toBe(201);
			const { job } = (await taken.json()) as { job: number };
			const back = recordOf(await archiveOf(page.request, other.address, job));
			expect(await comparable(there, back), title).toEqual(await comparable(here, recordOf(zip)));
			sent.set(job, back);
		}
		// What was taken in is read and judged here as well.
		await allScreened(there, (await there.selectFrom('logs').select('id').execute()).length);
		await page.goto(`${other.address}/`);
		await expect(page.getByRole('link', { name: jobs[0]!.title })).toBeVisible();
	} finally {
		await here.destroy();
		await there.destroy();
		await other.remove();
	}
});

test('a job is imported on the page of new jobs; a file that is none is refused in words', async ({
	page,
	request,
	server
}, info) => {
	const zip = await archiveOf(request, server.address, 2);
	await open(page, '/jobs/new');
	const field = page.getByLabel('Import a job').locator('input[type=file]');
	await field.setInputFiles({
		name: 'odd.zip',
		mimeType: 'application/zip',
		buffer: Buffer.from('PK or not')
	});
	await page.getByRole('button', { name: 'Import job' }).click();
	await expect(page.getByRole('alert')).toContainText('no whole ZIP archive');
	await field.setInputFiles({ name: 'job.zip', mimeType: 'application/zip', buffer: zip });
	await page.getByRole('button', { name: 'Import job' }).click();
	await expect(page.getByRole('alert')).toContainText('here already, as number 2');
	await open(page, '/jobs/2/summary');
	await page.getByRole('button', { name: 'More' }).click();
	const download = page.waitForEvent('download');
	await page.getByRole('menuitem', { name: 'Whole job as an archive' }).click();
	const path = info.outputPath('job.zip');
	await (await download).saveAs(path);
	expect(recordOf(readFileSync(path)).schema).toBe('tanto.job-archive/1');
});
