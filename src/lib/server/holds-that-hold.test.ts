/** What holds a release, what a form speaks of, ids, versions, mail and locks: against a real database in a folder of its own. */
import Sqlite from 'better-sqlite3';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pino from 'pino';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { parseCalibration } from '../../core/calibration/document.ts';
import { briefOf } from '../../core/screening/brief.ts';
import type { Report } from '../../core/screening/report.ts';
import { handMade, pullShapes, vehicleWith } from '../../core/testing/hand-made.ts';
import { accept, invite } from './auth/invitations.ts';
import { openAccounts, removeTuner } from './auth/accounts.ts';
import { BodyTooLong, limited, limitOf } from './body-limit.ts';
import { nextId } from './db/ids.ts';
import { connect, migrate, type Db } from './db/open.ts';
import { createJob, jobView, queue } from './jobs.ts';
import { lockFolder } from './lock.ts';
import { dropRuns, loadLog, storeColumns } from './log-store.ts';
import { addLog, removeLog } from './logs.ts';
import { openMailer } from './mail/mailer.ts';
import { messagesOf, toCustomer, writeToCustomer } from './messages.ts';
import { confirmInstalled, filesHash, release, releaseCheck } from './release.ts';
import {
	ChangedElsewhere,
	confirmedRevision,
	createDraft,
	currentRevision,
	discardDraft,
	revision,
	saveChanges,
	type Revision
} from './revisions.ts';
import { forgetScreenings } from './screenings.ts';

let folder: string;
let db: Db;
let jobId: number;
const logger = pino({ level: 'silent' });
const NOT_REPLAYED = { replay: null, problem: '' };

const calibration = parseCalibration({
	schema: 'tanto.calibration/1',
	name: 'base',
	fuelModel: 'speed-density',
	items: [
		{
			id: 'fuel.table',
			title: 'VE',
			kind: 'map',
			x: { channel: 'rpm', points: [1000, 2000] },
			y: { channel: 'map', points: [50, 100] },
			values: [
				[70, 75],
				[80, 85]
			]
		}
	]
});
beforeEach(async () => {
	folder = mkdtempSync(join(tmpdir(), 'tanto-holds-'));
	db = connect(folder);
	await migrate(db);
	jobId = await createJob(db, {
		customer: 'Ada Wren',
		email: 'ada@wren.example',
		title: 'job',
		vehicle: vehicleWith(),
		calibration
	});
});
afterEach(async () => {
	await db.destroy();
	rmSync(folder, { recursive: true });
});

const cell = (to: number, x = 1000) => ({
	item: 'fuel.table',
	x,
	y: 50,
	from: x === 1000 ? 70 : 75,
	to,
	basis: 'hand' as const,
	samples: 0,
	se: null,
	reason: 'leaner than the log asks for',
	findings: []
});
async function draftOf(changes = [cell(60)]): Promise<Revision> {
	const parent = (await revision(db, (await currentRevision(db, jobId)).id))!;
	const id = await createDraft(db, parent, null, []);
	await saveChanges(db, (await revision(db, id))!, changes);
	return (await revision(db, id))!;
}
async function logIn(state: 'received' | 'reading' | 'screened' | 'failed', sha: string): Promise<number> {
	const id = await nextId(db, 'logs');
	await db
		.insertInto('logs')
		.values({
			id,
			job_id: jobId,
			revision_id: (await currentRevision(db, jobId)).id,
			name: `${sha}.csv`,
			sha256: sha.repeat(64).slice(0, 64),
			bytes: 1,
			sent_by: 'tuner',
			state,
			received_at: new Date().toISOString()
		})
		.execute();
	return id;
}
async function screening(logId: number, severity: 'stop' | 'watch', at = new Date()): Promise<void> {
	const report = {
		verdict: severity,
		findings: [
			{
				code: 'fuel.lean',
				severity,
				title: 'Lean under load',
				summary: 's',
				channels: [],
				causes: [],
				next: []
			}
		],
		checks: []
	};
	await db
		.insertInto('screenings')
		.values({
			log_id: logId,
			version: 5,
			profile: '{}',
			report: JSON.stringify(report),
			cells: 'null',
			pulls: '[]',
			unmapped: '[]',
			brief: JSON.stringify(briefOf(report as unknown as Report)),
			created_at: at.toISOString()
		})
		.execute();
}
const answerAll = { get: () => 'it is right all the same' };
async function releaseOf(
	draft: Revision,
	examined?: { contentHash: string; files: string },
	now = new Date()
): Promise<void> {
	const check = await releaseCheck(db, draft, NOT_REPLAYED);
	await release(
		db,
		draft,
		{
			notes: 'n',
			answers: Object.fromEntries(check.holds.map((h) => [h.id, answerAll.get()])),
			author: 'Sable',
			filesConfirmed: true,
			examined: examined ?? { contentHash: draft.contentHash, files: await filesHash(db, draft.id) }
		},
		NOT_REPLAYED,
		now
	);
}

describe('a release', () => {
	it('goes out with what was examined, or not at all', async () => {
		const draft = await draftOf();
		const seen = { contentHash: draft.contentHash, files: '' };
		// The page is open; somebody saves other cells.
		await saveChanges(db, draft, [cell(40)]);
		await expect(releaseOf((await revision(db, draft.id))!, seen)).rejects.toThrow(
			'was changed since this page'
		);
		// The same between the examination and the freezing: the old draft object is what was examined.
		await expect(releaseOf(draft)).rejects.toThrow('was changed since this page');
		expect((await revision(db, draft.id))!.state).toBe('draft');
		await releaseOf((await revision(db, draft.id))!);
		expect((await revision(db, draft.id))!.state).toBe('released');
	});
	it('goes out with the files that were examined', async () => {
		const draft = await draftOf();
		const seen = { contentHash: draft.contentHash, files: await filesHash(db, draft.id) };
		await db
			.insertInto('attachments')
			.values({
				revision_id: draft.id,
				name: 'f',
				bytes: 1,
				sha256: 'f'.repeat(64),
				hardware: 'h',
				software: 's',
				created_at: ''
			})
			.execute();
		await expect(releaseOf(draft, seen)).rejects.toThrow('a closed file of R1 was changed');
	});
	it('takes nothing along when what goes with it fails', async () => {
		const draft = await draftOf();
		const check = await releaseCheck(db, draft, NOT_REPLAYED);
		await expect(
			release(
				db,
				draft,
				{
					notes: 'n',
					answers: Object.fromEntries(check.holds.map((h) => [h.id, answerAll.get()])),
					author: 'S',
					filesConfirmed: true,
					examined: { contentHash: draft.contentHash, files: '' }
				},
				NOT_REPLAYED,
				new Date(),
				async () => {
					throw new Error('the disk is full');
				}
			)
		).rejects.toThrow('the disk is full');
		expect((await revision(db, draft.id))!.state).toBe('draft');
		expect(await db.selectFrom('hold_answers').selectAll().execute()).toEqual([]);
	});
});

describe('holds', () => {
	const ids = async (draft: Revision) => (await releaseCheck(db, draft, NOT_REPLAYED)).holds;
	it.each(['received', 'reading', 'failed'] as const)(
		'a stop found before holds while its log is %s',
		async (state) => {
			const log = await logIn('screened', 'a');
			await screening(log, 'stop');
			const draft = await draftOf();
			await db.updateTable('logs').set({ state }).where('id', '=', log).execute();
			expect((await ids(draft)).map((h) => h.id)).toContain('finding fuel.lean');
		}
	);
	it('a log that is being read can not be answered away, one that failed can', async () => {
		const reading = await logIn('reading', 'b');
		const failed = await logIn('failed', 'c');
		const holds = await ids(await draftOf());
		expect(holds.find((h) => h.id === `reading ${reading}`)).toMatchObject({ answerable: false });
		expect(holds.find((h) => h.id === `unread ${failed}`)).toMatchObject({ answerable: true });
	});
	it('a log that was declined says nothing', async () => {
		const failed = await logIn('failed', 'd');
		await db.updateTable('logs').set({ declined_at: 'now' }).where('id', '=', failed).execute();
		expect((await ids(await draftOf())).some((h) => h.id.startsWith('unread'))).toBe(false);
	});
	it('what only adds fuel gets through them all', async () => {
		await logIn('reading', 'e');
		expect(await ids(await draftOf([cell(90)]))).toEqual([]);
	});
});

describe('ids', () => {
	it('of a discarded draft are given to no other', async () => {
		const draft = await draftOf();
		await discardDraft(db, draft);
		const next = await draftOf();
		expect(next.id).toBeGreaterThan(draft.id);
		await expect(saveChanges(db, draft, [cell(1)], [], draft.version)).rejects.toThrow('was discarded');
	});
	it('of a removed log neither, and its file goes', async () => {
		const app = { db, dataDir: folder, pool: null, logger } as never;
		const words = { kind: 'drive' as const, words: '', momentS: null, answers: {} };
		const sha = 'ab'.repeat(32);
		mkdirSync(join(folder, 'files', 'ab'), { recursive: true });
		writeFileSync(join(folder, 'files', 'ab', sha), 'x');
		const first = await addLog(
			{ ...(app as object), pool: { processLog: () => new Promise(() => {}) } } as never,
			jobId,
			'l',
			{ sha256: sha, bytes: 1 },
			'tuner',
			{ words }
		);
		await removeLog({ db, dataDir: folder }, { id: first.id, sha256: sha } as never);
		expect(existsSync(join(folder, 'files', 'ab', sha))).toBe(false);
		expect(await nextId(db, 'logs')).toBeGreaterThan(first.id);
	});
	it('come one by one from many at once', async () => {
		const all = await Promise.all(Array.from({ length: 40 }, () => nextId(db, 'photos')));
		expect(new Set(all).size).toBe(40);
	});
});

describe('two windows on one draft', () => {
	it('a save on an older version is told what is stored', async () => {
		const draft = await draftOf();
		expect(await saveChanges(db, draft, [cell(61)], [], draft.version)).toBe(draft.version + 1);
		const late = await saveChanges(db, draft, [cell(62)], [], draft.version).catch((e: unknown) => e);
		expect(late).toBeInstanceOf(ChangedElsewhere);
		expect((late as ChangedElsewhere).stored.changes[0]!.to).toBe(61);
		expect((await revision(db, draft.id))!.changes[0]!.to).toBe(61);
	});
	it('of two at once one is stored', async () => {
		const draft = await draftOf();
		const both = await Promise.allSettled(
			[61, 62].map((to) => saveChanges(db, draft, [cell(to)], [], draft.version))
		);
		expect(both.map((b) => b.status).sort()).toEqual(['fulfilled', 'rejected']);
	});
	it('two drafts begun at once are one', async () => {
		const parent = (await revision(db, (await currentRevision(db, jobId)).id))!;
		const both = await Promise.allSettled([1, 2].map(() => createDraft(db, parent, null, [])));
		expect(both.filter((b) => b.status === 'fulfilled')).toHaveLength(1);
	});
});

describe('what is in the car', () => {
	it('is what the customer confirmed; a log of theirs counts as made with it', async () => {
		const r0 = await currentRevision(db, jobId);
		const draft = await draftOf();
		await releaseOf(draft);
		expect((await confirmedRevision(db, jobId)).id).toBe(r0.id);
		await confirmInstalled(db, (await revision(db, draft.id))!, 'Ada');
		expect((await confirmedRevision(db, jobId)).id).toBe(draft.id);
	});
});

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
	it('of an invitation keeps no link', async () => {
		const mailer = await openMailer(db, logger, true);
		await mailer.put(db, { jobId: null, to: 'a@b.example', subject: 's', body: 'https://here/join/secret' });
		await mailer.idle();
		expect((await db.selectFrom('mails').select('body').executeTakeFirstOrThrow()).body).not.toContain(
			'secret'
		);
		await mailer.close();
	});
});

describe('who was removed', () => {
	it('does not come back by an invitation that was still open', async () => {
		const auth = await openAccounts(db, folder);
		const first = await invite(db, 'new@tanto.example', 'owner');
		const second = await invite(db, 'new@tanto.example', 'owner');
		await expect(accept(db, auth, first, 'New', 'long enough 1')).rejects.toThrow('does not work any more');
		await accept(db, auth, second, 'New', 'long enough 1');
		const { id } = await db.selectFrom('user').select('id').executeTakeFirstOrThrow();
		// An invitation made in the meantime to the same address, by hand as an older version left it.
		await db
			.insertInto('invitations')
			.values({
				email: 'new@tanto.example',
				token_hash: 'h',
				invited_by: 'o',
				created_at: 'now',
				expires_at: '9999'
			})
			.execute();
		expect(await removeTuner(db, id)).toBe(true);
		expect(await db.selectFrom('invitations').select('id').where('used_at', 'is', null).execute()).toEqual(
			[]
		);
	});
});

describe('bodies', () => {
	const stream = (bytes: number) =>
		new ReadableStream<Uint8Array>({
			start(c) {
				for (let i = 0; i < bytes; i += 16_384) c.enqueue(new Uint8Array(16_384));
				c.close();
			}
		});
	const post = (bytes: number) =>
		new Request('http://x/sign-in', { method: 'POST', body: stream(bytes), duplex: 'half' } as RequestInit);
	it.each(['/sign-in', '/setup', '/join/[token]', '/c/[token]', null])(
		'of a stranger at %s stay small',
		(route) => {
			expect(limitOf(route, false)).toBe(65_536);
		}
	);
	it('break off where they are longer than they may be', async () => {
		await expect(limited(post(1 << 20), 65_536).arrayBuffer()).rejects.toThrow(BodyTooLong);
		expect((await limited(post(32_768), 65_536).arrayBuffer()).byteLength).toBe(32_768);
	});
	it('are refused at once where they say so', () => {
		const said = new Request('http://x/', {
			method: 'POST',
			body: 'x',
			headers: { 'content-length': '99999999' }
		});
		expect(() => limited(said, 65_536)).toThrow();
	});
	it('of files stream without a limit here', () => {
		expect(limitOf('/c/[token]/uploads/[...id]', false)).toBe(Infinity);
	});
});

describe('a lock held from outside', () => {
	it('is waited for without the thread standing still', async () => {
		const other = new Sqlite(join(folder, 'tanto.sqlite'));
		other.exec('begin immediate');
		let ticks = 0;
		let longest = 0;
		let last = performance.now();
		const timer = setInterval(() => {
			ticks++;
			longest = Math.max(longest, performance.now() - last);
			last = performance.now();
		}, 5);
		const write = db.updateTable('jobs').set({ title: 'new' }).where('id', '=', jobId).execute();
		// Reads don't wait behind it.
		expect((await jobView(db, jobId))!.title).toBe('job');
		await new Promise((r) => setTimeout(r, 300));
		other.exec('commit');
		await write;
		clearInterval(timer);
		other.close();
		expect((await jobView(db, jobId))!.title).toBe('new');
		expect(ticks).toBeGreaterThan(20);
		expect(longest).toBeLessThan(150);
	});
});

describe('one server a folder', () => {
	it('a second one is refused in a sentence, and the lock goes with its holder', () => {
		const lock = lockFolder(folder);
		const second = () =>
			spawnSync(
				process.execPath,
				[
					'--import',
					'tsx',
					'-e',
					`import('./src/lib/server/lock.ts').then(({ lockFolder }) => { lockFolder(${JSON.stringify(folder)}); process.stdout.write('in'); }).catch((e) => process.stdout.write(e.message))`
				],
				{ encoding: 'utf8' }
			).stdout;
		expect(second()).toContain('another Tanto server already works in');
		lock.release();
		expect(second()).toBe('in');
	});
	it('a folder that is none is refused', () => {
		expect(() => lockFolder(join(folder, 'missing', 'deeper'))).toThrow('nothing can be written');
	});
});

describe('columns of a log', () => {
	it('are the log’s only when all of them are there', async () => {
		const log = handMade(30, 20, pullShapes());
		const id = await logIn('screened', 'f');
		const first = await storeColumns(db, id, log);
		expect((await loadLog(db, id)).channels).toEqual([]);
		await db.updateTable('logs').set({ run: first }).where('id', '=', id).execute();
		expect((await loadLog(db, id)).channels.length).toBe(log.channels.length);
		// Read again and stopped half way: the log is what it was, and the half goes at the next start.
		await storeColumns(db, id, handMade(10, 20, { rpm: () => 1 }));
		expect((await loadLog(db, id)).channels.length).toBe(log.channels.length);
		await dropRuns(db);
		const rows = await db.selectFrom('log_channels').select('run').distinct().execute();
		expect(rows.map((r) => r.run)).toEqual([first]);
	});
});

describe('screenings', () => {
	it('of which the newest three are kept, and the one that a release rests on', async () => {
		const log = await logIn('screened', 'g');
		const at = (day: number) => new Date(Date.UTC(2024, 0, day));
		for (let day = 1; day <= 3; day++) await screening(log, 'watch', at(day));
		await releaseOf(await draftOf([cell(90)]), undefined, at(4));
		for (let day = 5; day <= 9; day++) await screening(log, 'watch', at(day));
		await forgetScreenings(db, log);
		const kept = await db.selectFrom('screenings').select('created_at').orderBy('id').execute();
		expect(kept.map((k) => new Date(k.created_at).getUTCDate())).toEqual([3, 7, 8, 9]);
	});
});

describe('the queue', () => {
	it('reads no reports', async () => {
		const log = await logIn('screened', 'h');
		await screening(log, 'stop');
		await db.updateTable('screenings').set({ report: 'not even JSON' }).execute();
		expect((await queue(db))[0]).toMatchObject({ verdict: 'stop', finding: 'Lean under load' });
	});
});
