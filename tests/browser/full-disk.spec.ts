/** A disk that fills up under the running server: refused in words before anything is half stored, and everything goes on when there is room. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { BuiltServer } from './built-server.ts';
import { createTuner, openAccounts } from '../../src/lib/server/auth/accounts.ts';
import type { Db } from '../../src/lib/server/db/open.ts';
import { allScreened, ask, begin, hashOf, jobIn, send, shortLog, states, TUS } from './pieces.ts';

const MB = 1 << 20;
let disk: string;
let mounted = false;
let server: BuiltServer;
let db: Db;
let link: string;

/** Leaves at most so many bytes free; 0 takes the last one. */
function fill(leave: number): void {
	rmSync(join(disk, 'ballast'), { force: true });
	const { bavail, bsize } = statfsSync(disk);
	try {
		writeFileSync(
			join(disk, 'ballast'),
			Buffer.alloc(Math.max(0, bavail * bsize - leave) + (leave ? 0 : MB))
		);
	} catch (e) {
		// The last byte is taken by asking for one more.
		if ((e as NodeJS.ErrnoException).code !== 'ENOSPC') throw e;
	}
}
const makeRoom = () => rmSync(join(disk, 'ballast'), { force: true });

test.setTimeout(120_000);
test.beforeEach(async () => {
	disk = mkdtempSync(join(tmpdir(), 'tanto-disk-'));
	mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=160m', 'tmpfs', disk]).status === 0;
	test.skip(!mounted, 'a small disk can only be mounted by whoever may mount');
	server = await BuiltServer.on(disk);
	({ db, link } = await jobIn(server));
	await server.start();
});
test.afterEach(async () => {
	if (mounted) {
		if (server.runs) await server.end();
		await db.destroy();
		spawnSync('umount', [disk]);
	}
	rmSync(disk, { recursive: true, force: true });
});

test('a file that would not fit is refused before its first byte, and taken when there is room', async () => {
	const log = shortLog(1, MB);
	fill(66 * MB);
	const refused = await ask(link, 'l.csv', log.length);
	expect(refused.status).toBe(400);
	expect(await refused.text()).toContain('no room left on the server');
	expect(await states(db)).toEqual([]);
	makeRoom();
	expect((await send(await begin(link, 'l.csv', log.length), log, 0)).status).toBe(200);
	await allScreened(db, 1);
});

test('full in the middle of an upload: what had arrived stays, and it goes on from there', async () => {
	const log = shortLog(2, 4 * MB);
	const upload = await begin(link, 'l.csv', log.length);
	expect((await send(upload, log.subarray(0, MB), 0)).status).toBe(204);
	fill(0);
	const cut = await send(upload, log.subarray(MB), MB);
	expect(cut.status).toBe(507);
	expect(await cut.text()).toContain('no room left');
	// Pages that only read still answer.
	expect((await fetch(link)).status).toBe(200);
	expect((await fetch(`${server.address}/healthz`)).status).toBe(200);
	makeRoom();
	const head = await fetch(upload, { method: 'HEAD', headers: TUS });
	const offset = Number(head.headers.get('upload-offset'));
	expect(offset).toBeGreaterThanOrEqual(MB);
	expect((await send(upload, log.subarray(offset), offset)).status).toBe(200);
	await allScreened(db, 1);
	expect((await db.selectFrom('logs').select('sha256').execute()).map((l) => l.sha256)).toEqual([
		hashOf(log)
	]);
});

test('full while a log is read: it waits, fails for nobody, and goes on by itself', async () => {
	const log = shortLog(3, 4 * MB);
	expect((await send(await begin(link, 'l.csv', log.length), log, 0)).status).toBe(200);
	fill(0);
	// Longer than the reading takes where there is room.
	await new Promise((r) => setTimeout(r, 4000));
	for (const s of await states(db)) expect(s).not.toContain('failed');
	expect((await fetch(link)).status).toBe(200);
	makeRoom();
	await allScreened(db, 1);
	const whole = await db
		.selectFrom('log_channels')
		.innerJoin('logs', 'logs.id', 'log_channels.log_id')
		.select(({ fn }) => fn.countAll<number>().as('n'))
		.whereRef('log_channels.run', '!=', 'logs.run')
		.executeTakeFirstOrThrow();
	expect(whole.n).toBe(0);
});

test('full when a form is saved: said in words with a number, and nothing of it stored', async () => {
	fill(0);
	const answer = await fetch(`${link}?/write`, {
		method: 'POST',
		headers: {
			'content-type': 'application/x-www-form-urlencoded',
			origin: server.address,
			accept: 'text/html'
		},
		body: new URLSearchParams({ body: 'it rattles at the top '.repeat(150) })
	});
	expect(answer.status).toBe(500);
	expect(await answer.text()).toContain('no room left on the disk of the server');
	makeRoom();
	expect(await db.selectFrom('messages').selectAll().execute()).toEqual([]);
});

test('full, and somebody signs in to make room: the spare room is for that', async () => {
	const password = 'long enough 1';
	await createTuner(await openAccounts(db, disk), {
		name: 'Sable',
		email: 'sable@tanto.example',
		password,
		role: 'owner'
	});
	// The server asks at its start whether there is an account.
	await server.end();
	await server.start();
	fill(0);
	const signIn = (given: string) =>
		fetch(`${server.address}/sign-in?/password`, {
			method: 'POST',
			headers: {
				'content-type': 'application/x-www-form-urlencoded',
				origin: server.address,
				accept: 'text/html'
			},
			body: new URLSearchParams({ email: 'sable@tanto.example', password: given }),
			redirect: 'manual'
		});
	expect((await signIn('a guess of mine')).status).toBe(400);
	const answer = await signIn(password);
	expect(answer.status).toBe(303);
	const cookie = answer.headers
		.getSetCookie()
		.map((c) => c.split(';')[0])
		.join('; ');
	expect((await fetch(`${server.address}/team`, { headers: { cookie }, redirect: 'manual' })).status).toBe(
		200
	);
});
