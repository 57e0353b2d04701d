/** The server is killed in the middle of everything and comes up again: every log is whole or not there, and screening goes on. */
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { expect, test } from '@playwright/test';
import { BuiltServer } from './built-server.ts';
import type { Db } from '../../src/lib/server/db/open.ts';
import { openFile } from '../../src/lib/server/storage/files.ts';
import { loadLog } from '../../src/lib/server/logs/log-store.ts';
import { allScreened, begin, hashOf, jobIn, logBytes, ROWS, send, shortLog, states, TUS } from './pieces.ts';

let server: BuiltServer;
let db: Db;
let link: string;

test.setTimeout(180_000);
test.beforeEach(async () => {
	server = await BuiltServer.on();
	({ db, link } = await jobIn(server));
	await server.start();
});
test.afterEach(async () => {
	await db.destroy();
	await server.remove();
});

test('killed at several moments, every log is whole or not there', async () => {
	const logs = () =>
		db
			.selectFrom('logs')
			.select(['id', 'name', 'state', 'sha256', 'message', 'rows'])
			.orderBy('id')
			.execute();

	// In the middle of an upload: nothing is in the job, and it goes on where it was cut.
	const first = logBytes(0);
	const upload = await begin(link, 'upload.csv', first.length);
	const half = first.length >> 1;
	expect((await send(upload, first.subarray(0, half), 0)).status).toBe(204);
	const rest = send(upload, first.subarray(half), half).catch(() => null);
	await new Promise((r) => setTimeout(r, 4));
	await server.end();
	await rest;
	await server.start();
	const head = await fetch(upload, { method: 'HEAD', headers: TUS });
	if (head.status === 200) {
		const offset = Number(head.headers.get('upload-offset'));
		expect(offset).toBeGreaterThanOrEqual(half);
		if (offset < first.length) {
			expect(await logs()).toEqual([]);
			expect((await send(upload, first.subarray(offset), offset)).status).toBe(200);
		}
	} else expect([404, 410]).toContain(head.status);

	// After an upload, at several moments of reading, screening, storing and packing.
	const sent = [first];
	for (const [n, delayMs] of [0, 60, 180, 350, 600, 1000, 1600].entries()) {
		const bytes = logBytes(n + 1);
		const url = await begin(link, `log-${delayMs}.csv`, bytes.length);
		expect((await send(url, bytes, 0)).status).toBe(200);
		sent.push(bytes);
		await new Promise((r) => setTimeout(r, delayMs));
		await server.end();
		for (const log of await logs()) {
			const stored = await db
				.selectFrom('log_channels')
				.innerJoin('logs', (join) =>
					join.onRef('logs.id', '=', 'log_channels.log_id').onRef('logs.run', '=', 'log_channels.run')
				)
				.select(({ fn }) => fn.countAll<number>().as('n'))
				.where('logs.id', '=', log.id)
				.executeTakeFirstOrThrow();
			// Columns, report and state come together or not at all.
			expect(stored.n > 0, `${log.name}: ${log.state}`).toBe(log.state === 'screened');
		}
		await server.start();
	}
	await expect
		.poll(
			async () =>
				(await logs()).filter((l) => l.state !== 'screened').map((l) => [l.name, l.state, l.message]),
			{
				timeout: 60_000
			}
		)
		.toEqual([]);
	const all = await logs();
	expect(all.length).toBeGreaterThanOrEqual(sent.length - 1);
	const hashes = new Set(sent.map(hashOf));
	for (const log of all) {
		expect(hashes).toContain(log.sha256);
		expect(log.rows).toBe(ROWS);
		const hash = createHash('sha256');
		for await (const chunk of openFile(server.folder, log.sha256)) hash.update(chunk as Buffer);
		expect(hash.digest('hex')).toBe(log.sha256);
		expect((await loadLog(db, log.id)).channels.every((c) => c.values.length === ROWS)).toBe(true);
	}
});

test('an ordinary stop fails no log: what is in hand ends or goes back, and goes on at the next start', async () => {
	for (let n = 0; n < 3; n++) {
		const bytes = logBytes(100 + n);
		expect((await send(await begin(link, `stop-${n}.csv`, bytes.length), bytes, 0)).status).toBe(200);
	}
	await server.end('SIGTERM');
	expect((await states(db)).filter((s) => s.includes('failed'))).toEqual([]);
	await server.start();
	await allScreened(db, 3);
});

test('a second server on the same folder is refused, and the first goes on', async () => {
	const second = spawn(process.execPath, ['build/index.js'], {
		stdio: ['ignore', 'ignore', 'pipe'],
		env: { ...process.env, HOST: '127.0.0.1', PORT: '0', TANTO_DATA_DIR: server.folder }
	});
	let said = '';
	second.stderr.on('data', (d) => (said += String(d)));
	expect(await new Promise((r) => second.once('exit', r))).toBe(1);
	expect(said).toContain('another Tanto server already works in');
	const bytes = logBytes(200);
	expect((await send(await begin(link, 'after.csv', bytes.length), bytes, 0)).status).toBe(200);
	await allScreened(db, 1);
	expect((await fetch(`${server.address}/healthz`)).status).toBe(200);
});

/** `TANTO_KILLS=300 npx playwright test kill` does it for an evening. */
const KILLS = Number(process.env['TANTO_KILLS'] ?? 8);

test(`killed ${KILLS} times at random moments, nothing is lost or half stored`, async () => {
	test.setTimeout(60_000 + KILLS * 6000);
	// A generator of our own, so that a moment that fails can be tried again.
	let seed = 7;
	const random = () => (seed = (seed * 48_271) % 2_147_483_647) / 2_147_483_647;
	const acknowledged: Buffer[] = [];
	for (let n = 0; n < KILLS; n++) {
		const whole = shortLog(1000 + n, 900_000);
		const upload = await begin(link, `r-${n}.csv`, whole.length).catch((e: unknown) => {
			server.alive();
			throw e;
		});
		const sending = send(upload, whole, 0).then(
			(r) => r.status,
			() => 0
		);
		await new Promise((r) => setTimeout(r, random() * 500));
		await server.end();
		if ((await sending) === 200) acknowledged.push(whole);
		await server.start();
		// Columns, report and state come together or not at all.
		for (const log of await db.selectFrom('logs').select(['id', 'state', 'run']).execute())
			if (log.state === 'screened') {
				const { n: columns } = await db
					.selectFrom('log_channels')
					.select(({ fn }) => fn.countAll<number>().as('n'))
					.where('log_id', '=', log.id)
					.where('run', '=', log.run)
					.executeTakeFirstOrThrow();
				expect(columns).toBeGreaterThan(0);
			}
	}
	await allScreened(db);
	const hashes = new Set((await db.selectFrom('logs').select('sha256').execute()).map((l) => l.sha256));
	for (const bytes of acknowledged) expect(hashes.has(hashOf(bytes))).toBe(true);
});
