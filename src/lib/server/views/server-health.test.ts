/** The condition of a folder, and a file about it in which no customer is found. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { conditionOf, diagnosis } from './server-health.ts';
import { fromCustomer } from '$lib/server/jobs/messages.ts';
import { openWorld, putJob, putLog, type World } from '$lib/server/testing/world.ts';

let world: World;
beforeEach(async () => {
	world = await openWorld();
});
afterEach(() => world.close());
const app = () => ({ db: world.db, dataDir: world.folder, mailer: { off: null } as never });

it('counts what is there, and knows the last backup', async () => {
	const job = await putJob(world.db, { customer: 'Ines Quill' });
	await putLog(world.db, job, { state: 'received' });
	await putLog(world.db, job);
	const before = await conditionOf(app());
	expect(before).toMatchObject({
		backup: null,
		logs: { received: 1, screened: 1 },
		outdated: 1,
		mails: { off: false }
	});
	expect(before.rows['jobs']).toBe(1);
	expect(before.disk.free).toBeGreaterThan(0);
	writeFileSync(
		join(world.folder, 'last-backup.json'),
		JSON.stringify({ at: '2030-01-01T03:00:00Z', to: '/b', missing: 1 })
	);
	expect((await conditionOf(app())).backup).toEqual({ at: '2030-01-01T03:00:00Z', missing: 1 });
	writeFileSync(join(world.folder, 'last-backup.json'), 'half');
	expect((await conditionOf(app())).backup).toBeNull();
});

it('has nothing of customers and no value of a setting in the file', async () => {
	process.env['TANTO_SMTP_URL'] = 'smtp://secret-of-mail@host';
	try {
		const job = await putJob(world.db, {
			customer: 'Ines Quill',
			email: 'ines@quill.example',
			title: 'Silver coupe'
		});
		await putLog(world.db, job, { state: 'failed', name: 'evening-drive.csv' });
		await fromCustomer(world.db, job, 'Ines Quill', 'it rattles');
		const text = JSON.stringify(await diagnosis(app()));
		for (const word of ['Ines', 'Quill', 'quill', 'Silver', 'evening', 'rattles', 'secret-of-mail'])
			expect(text).not.toContain(word);
		expect(JSON.parse(text)).toMatchObject({ refusedLogs: { 'not readable': 1 } });
		expect(text).toContain('TANTO_SMTP_URL');
	} finally {
		delete process.env['TANTO_SMTP_URL'];
	}
});
