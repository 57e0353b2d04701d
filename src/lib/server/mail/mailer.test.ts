/** Mail is written down with what it tells of, and sent from there. */
import { createServer, type Server } from 'node:net';
import pino from 'pino';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Db } from '$lib/server/db/open.ts';
import { jobView } from '$lib/server/jobs/jobs.ts';
import { messagesOf, toCustomer, writeToCustomer } from '$lib/server/jobs/messages.ts';
import { openWorld, putJob, type World } from '$lib/server/testing/world.ts';
import { caughtMails } from './catcher.ts';
import { openMailer, sendAgain } from './mailer.ts';

const logger = pino({ level: 'silent' });

let world: World;
let db: Db;
let jobId: number;
beforeEach(async () => {
	world = await openWorld();
	db = world.db;
	jobId = await putJob(db, { email: 'ada@wren.example' });
});
afterEach(() => world.close());

describe('mail', () => {
	async function refusing(): Promise<{ server: Server; url: string }> {
		const server = createServer((socket) => socket.end('421 not now\r\n'));
		await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
		return { server, url: `smtp://127.0.0.1:${(server.address() as { port: number }).port}` };
	}
	it('is written with the message, tried again later, and nobody waits for it', async () => {
		const { server, url } = await refusing();
		const mailer = await openMailer(db, logger, false, url);
		const job = (await jobView(db, jobId))!;
		expect(await toCustomer({ db, mailer }, job, 'Sable', 'R1 is ready')).toBeNull();
		await mailer.idle();
		const [mail] = await db.selectFrom('mails').selectAll().execute();
		expect(mail).toMatchObject({ state: 'waiting', attempts: 1 });
		expect(mail!.next_at > new Date().toISOString()).toBe(true);
		expect((await messagesOf(db, jobId))[0]!.mail!.error).toContain('not now');
		await mailer.close();
		server.close();
	});
	it('is given up after the last try, with a word in the job', async () => {
		const { server, url } = await refusing();
		const mailer = await openMailer(db, logger, false, url);
		await toCustomer({ db, mailer }, (await jobView(db, jobId))!, 'Sable', 'x');
		for (let i = 0; i < 7; i++) {
			await mailer.idle();
			await db.updateTable('mails').set({ next_at: '' }).where('state', '=', 'waiting').execute();
		}
		expect((await messagesOf(db, jobId))[0]!.mail).toMatchObject({ state: 'failed' });
		await mailer.close();
		server.close();
	});
	it('that was left waiting goes out after a start', async () => {
		const off = await openMailer(db, logger, true);
		await db.transaction().execute(async (trx) => {
			await writeToCustomer(trx, off, (await jobView(trx, jobId))!, 'Sable', 'left behind');
		});
		await off.close();
		const mailer = await openMailer(db, logger, true);
		await mailer.idle();
		expect((await db.selectFrom('mails').select('state').executeTakeFirstOrThrow()).state).toBe('sent');
		await mailer.close();
	});
	it('whose last bytes left as the server stopped is not sent twice by itself, and again when somebody says so', async () => {
		const stopped = await openMailer(db, logger, false, '');
		const id = await stopped.put(db, { jobId, to: 'a@b.example', subject: 'R1', body: 'b' });
		await stopped.close();
		// As a kill between the last byte and the answer leaves it.
		await db
			.updateTable('mails')
			.set({ state: 'waiting', error: null, handed_at: '2026-01-01' })
			.where('id', '=', id)
			.execute();
		const mailer = await openMailer(db, logger, true);
		await mailer.idle();
		const state = async () =>
			await db.selectFrom('mails').select(['state', 'error']).executeTakeFirstOrThrow();
		expect(await state()).toMatchObject({
			state: 'failed',
			error: expect.stringContaining('may have arrived')
		});
		expect(await caughtMails(db)).toHaveLength(0);
		expect(await sendAgain(db, id)).toBe(true);
		expect(await sendAgain(db, id)).toBe(false);
		await mailer.idle();
		expect(await state()).toMatchObject({ state: 'sent', error: null });
		expect(await caughtMails(db)).toHaveLength(1);
		await mailer.close();
	});
	it('is written down as being handed over before its last byte leaves, and not before', async () => {
		const states: boolean[] = [];
		const server = createServer((socket) => {
			socket.write('220 here\r\n');
			let inData = false;
			socket.on('data', (chunk) => {
				const text = chunk.toString();
				void (async () => {
					if (!inData && /^DATA/m.test(text)) {
						states.push(
							(await db.selectFrom('mails').select('handed_at').executeTakeFirstOrThrow()).handed_at !== null
						);
						inData = true;
						return socket.write('354 go on\r\n');
					}
					if (inData && !text.endsWith('\r\n.\r\n')) return;
					if (inData)
						states.push(
							(await db.selectFrom('mails').select('handed_at').executeTakeFirstOrThrow()).handed_at !== null
						);
					inData = false;
					return socket.write(text.startsWith('QUIT') ? '221 bye\r\n' : '250 ok\r\n');
				})();
			});
		});
		await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
		const { port } = server.address() as { port: number };
		const mailer = await openMailer(db, logger, false, `smtp://127.0.0.1:${port}`);
		await mailer.put(db, { jobId, to: 'a@b.example', subject: 's', body: 'b' });
		await mailer.idle();
		expect(states).toEqual([false, true]);
		expect((await db.selectFrom('mails').select('state').executeTakeFirstOrThrow()).state).toBe('sent');
		await mailer.close();
		server.close();
	});
	it('of an invitation keeps no link', async () => {
		const mailer = await openMailer(db, logger, true);
		await mailer.put(db, { jobId: null, to: 'a@b.example', subject: 's', body: 'https://here/join/secret' });
		await mailer.idle();
		expect((await db.selectFrom('mails').select('body').executeTakeFirstOrThrow()).body).not.toContain(
			'secret'
		);
		await mailer.close();
	});
	it('that was put off before the clock went back is not put off for longer', async () => {
		const mailer = await openMailer(db, logger, true);
		await mailer.put(
			db,
			{ jobId, to: 'a@b.example', subject: 's', body: 'b' },
			new Date(Date.now() + 86_400_000)
		);
		await mailer.idle();
		expect((await db.selectFrom('mails').select('state').executeTakeFirstOrThrow()).state).toBe('sent');
		await mailer.close();
	});
});
