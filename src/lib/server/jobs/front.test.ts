/** The front of the job against a real database: accounts, mail, messages, drive plans, limits, settings, stored files. */
import { briefOf } from '$core/screening/brief.ts';
import { findingKey } from '$core/screening/types.ts';
import type { Report } from '$core/screening/report.ts';
import { existsSync, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ReadableStream } from 'node:stream/web';
import { gzipSync } from 'node:zlib';
import pino from 'pino';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { planFrom } from '$core/planning/templates.ts';
import { vehicleWith, calibrationWith } from '$core/testing/hand-made.ts';
import {
	createTuner,
	hasTuners,
	openAccounts,
	removeTuner,
	tuners,
	type Auth
} from '$lib/server/auth/accounts.ts';
import {
	accept,
	invitationOf,
	invite,
	openInvitations,
	withdrawInvitation
} from '$lib/server/auth/invitations.ts';
import { signInTry, signInWorked } from '$lib/server/auth/throttle.ts';
import { findCustomers, saveCustomer } from './customers.ts';
import { answerFinding, answersOf, historyOf, takeBack } from '$lib/server/logs/finding-answers.ts';
import { earlierRuns } from '$lib/server/logs/logs.ts';
import type { Db } from '$lib/server/db/open.ts';
import { databaseIn } from '$lib/server/testing/world.ts';
import { adopt, openFile, packFile, pathOfFile, receive } from '$lib/server/storage/files.ts';
import { createJob, jobView, saveRecord } from './jobs.ts';
import { linkOf, renewLink, revokeLinks } from './links.ts';
import { caughtMails } from '$lib/server/mail/catcher.ts';
import { oneLine, openMailer } from '$lib/server/mail/mailer.ts';
import { addNote, fromCustomer, messagesOf, toCustomer } from './messages.ts';
import { ask, currentRequest } from './drive-plans.ts';
import { saveSetting, setting, SETTINGS } from './settings.ts';
import { timelineOf } from './timeline.ts';
import { withLimits } from './vehicles.ts';

let folder: string;
let db: Db;
let auth: Auth;
let jobId: number;
const logger = pino({ level: 'silent' });

beforeEach(async () => {
	folder = mkdtempSync(join(tmpdir(), 'tanto-front-'));
	db = await databaseIn(folder);
	auth = await openAccounts(db, folder);
	jobId = await createJob(db, {
		customer: 'Ines Varga',
		email: 'ines@varga.example',
		title: 'Kestrel',
		vehicle: vehicleWith(),
		calibration: calibrationWith([{ id: 'limit.rpm', kind: 'scalar', value: 7000 }], { fuelModel: 'maf' })
	});
});
afterEach(async () => {
	await db.destroy();
	rmSync(folder, { recursive: true });
});

const OWNER = {
	name: 'Sable',
	email: 'sable@tanto.example',
	password: 'ten letters and more',
	role: 'owner'
} as const;

describe('accounts', () => {
	it('passwords are hashed with a salt of their own; the key of the sessions is readable by its owner only', async () => {
		expect(await hasTuners(db)).toBe(false);
		await createTuner(auth, OWNER);
		await createTuner(auth, { ...OWNER, email: 'b@tanto.example', role: 'tuner' });
		const rows = await db
			.selectFrom('account' as never)
			.selectAll()
			.execute();
		const hashes = rows.map((r) => (r as { password: string }).password);
		expect(hashes).toHaveLength(2);
		expect(new Set(hashes).size).toBe(2);
		for (const hash of hashes) expect(hash).not.toContain('letters');
		expect(statSync(join(folder, 'session-key')).mode & 0o077).toBe(0);
		expect(await hasTuners(db)).toBe(true);
	});
	it('an address has one account, and a short password none', async () => {
		await createTuner(auth, OWNER);
		await expect(createTuner(auth, OWNER)).rejects.toThrow();
		await expect(
			createTuner(auth, { ...OWNER, email: 'c@tanto.example', password: 'short' })
		).rejects.toThrow();
		expect(await tuners(db)).toHaveLength(1);
	});
	it('the owner stays, others can be removed', async () => {
		const owner = await createTuner(auth, OWNER);
		const other = await createTuner(auth, { ...OWNER, email: 'b@tanto.example', role: 'tuner' });
		expect(await removeTuner(db, owner)).toBe(false);
		expect(await removeTuner(db, other)).toBe(true);
		expect((await tuners(db)).map((t) => t.email)).toEqual([OWNER.email]);
	});
	it('an invitation works once, for its address, until it expires or is withdrawn', async () => {
		const by = await createTuner(auth, OWNER);
		const token = await invite(db, 'wim@tanto.example', by);
		expect(await invitationOf(db, `${token}x`)).toBeNull();
		expect(await invitationOf(db, token, new Date(Date.now() + 8 * 86_400_000))).toBeNull();
		await accept(db, auth, token, 'Wim', 'ten letters and more');
		await expect(accept(db, auth, token, 'Wim', 'ten letters and more')).rejects.toThrow(
			'does not work any more'
		);
		await expect(invite(db, 'wim@tanto.example', by)).rejects.toThrow('has an account already');
		const second = await invite(db, 'ola@tanto.example', by);
		await withdrawInvitation(db, (await openInvitations(db))[0]!.id);
		expect(await invitationOf(db, second)).toBeNull();
	});
	it('attempts are slowed down by address and machine, and a right one begins anew', async () => {
		for (let i = 0; i < 5; i++) expect(await signInTry('10.0.0.1', 'x@y')).toBe(0);
		expect(await signInTry('10.0.0.1', 'x@y')).toBeGreaterThan(600);
		expect(await signInTry('10.0.0.2', 'x@y')).toBe(0);
		await signInWorked('10.0.0.1', 'x@y');
		expect(await signInTry('10.0.0.1', 'x@y')).toBe(0);
	});
	it('of many tries at once no more than five are made', async () => {
		const waits = await Promise.all(Array.from({ length: 65 }, () => signInTry('10.0.0.9', 'many@y')));
		expect(waits.filter((w) => w === 0)).toHaveLength(5);
	});
});

describe('mail', () => {
	it('goes through SMTP into the catcher, and a subject begins no header of its own', async () => {
		const mailer = await openMailer(db, logger, true);
		const id = await mailer.put(db, {
			jobId,
			to: 'ines@varga.example',
			subject: 'Kestrel\r\nBcc: everybody@elsewhere.example',
			body: 'Hello.\r\nSubject: not one'
		});
		expect(id).toBe(1);
		await mailer.idle();
		const [mail] = await caughtMails(db);
		expect(mail).toMatchObject({
			to: 'ines@varga.example',
			subject: 'Kestrel Bcc: everybody@elsewhere.example'
		});
		expect(mail!.body).toContain('Subject: not one');
		expect((await db.selectFrom('mails').select(['state']).executeTakeFirstOrThrow()).state).toBe('sent');
		await mailer.close();
	});
	it('without a mail server the mail is kept with the reason, and the message all the same', async () => {
		const mailer = await openMailer(db, logger, false);
		const job = (await jobView(db, jobId))!;
		const why = await toCustomer({ db, mailer } as never, job, 'Sable', 'Please log again.');
		expect(why).toContain('no mail server is set');
		const [message] = await messagesOf(db, jobId);
		expect(message).toMatchObject({
			kind: 'to-customer',
			body: 'Please log again.',
			mail: { state: 'failed' }
		});
		await mailer.close();
	});
	it.each(['a\nb', 'a\r\nb', 'a\u2028b', 'a\tb', ' a \u0000 b '])('%j is one line', (text) => {
		expect(oneLine(text)).toMatch(/^a +b$/);
	});
});

describe('the timeline of a job', () => {
	it('carries notes, messages and drive plans beside logs and revisions, in the order of time', async () => {
		const at = (minute: number) => new Date(Date.now() + minute * 60_000);
		await addNote(db, jobId, 'Sable', ' A note. ', at(1));
		await ask(
			db,
			jobId,
			'street-baseline',
			planFrom('street-baseline', vehicleWith(), { speedCapKmh: null }),
			at(2)
		);
		await expect(fromCustomer(db, jobId, 'Ines', '   ')).rejects.toThrow('write something first');
		const events = await timelineOf(db, jobId);
		expect(events.map((b) => [b.kind, b.label])).toEqual([
			['revision', 'R0'],
			['message', 'Note'],
			['plan', 'Street baseline']
		]);
		expect(events[1]!.detail).toBe('A note.');
	});
	it('the newest plan holds', async () => {
		for (const id of ['first-start', 'nitrous'] as const)
			await ask(db, jobId, id, planFrom(id, vehicleWith(), { speedCapKmh: 100 }));
		expect((await currentRequest(db, jobId))!.template).toBe('nitrous');
	});
	it('keeps the record of the job', async () => {
		await saveRecord(db, jobId, 'Kestrel 2', { goals: 'g', doneBefore: 'd', agreed: 'a' });
		expect(await jobView(db, jobId)).toMatchObject({
			title: 'Kestrel 2',
			record: { goals: 'g', doneBefore: 'd', agreed: 'a' }
		});
	});
});

describe('customers and their links', () => {
	it('every word of a search has to stand somewhere', async () => {
		expect(await findCustomers(db, 'varga KESTREL')).toHaveLength(1);
		expect(await findCustomers(db, 'varga finch')).toHaveLength(0);
		const [line] = await findCustomers(db, '');
		await saveCustomer(db, line!.id, { name: 'Ines V.', email: null, notes: 'pays late' });
		expect((await findCustomers(db, 'late'))[0]).toMatchObject({ name: 'Ines V.', email: null });
	});
	it('a link can be read again until it is closed', async () => {
		const token = await renewLink(db, folder, jobId);
		expect(await linkOf(db, folder, jobId)).toMatchObject({
			token,
			until: expect.stringMatching(/^\d{4}-/)
		});
		await revokeLinks(db, jobId);
		expect(await linkOf(db, folder, jobId)).toBeNull();
	});
});

describe('limits of a vehicle', () => {
	it('keeps what differs from the default, and lets it go when emptied', () => {
		const own = withLimits(vehicleWith(), { dutyWatchPct: '75', dutyFixPct: '85', leanFixPct: '' });
		expect(own.limits).toEqual({ dutyWatchPct: 75 });
		expect(withLimits(own, {})).not.toHaveProperty('limits');
	});
	it('refuses what is no number by its meaning, and keeps limits of other versions', () => {
		expect(() => withLimits(vehicleWith(), { dutyWatchPct: 'lots' })).toThrow('injector duty: watch: "lots"');
		expect(withLimits(vehicleWith({}, { limits: { futureLimit: 3 } }), {}).limits).toEqual({
			futureLimit: 3
		});
	});
});

describe('answers to findings', () => {
	async function logWith(findings: object[], name: string): Promise<number> {
		const { insertId } = await db
			.insertInto('logs')
			.values({
				job_id: jobId,
				revision_id: 1,
				name,
				sha256: name,
				bytes: 1,
				sent_by: 'tuner',
				state: 'screened',
				received_at: new Date().toISOString()
			})
			.executeTakeFirstOrThrow();
		await screened(Number(insertId), findings);
		return Number(insertId);
	}
	async function screened(logId: number, findings: object[], profile = { dutyWatchPct: 80 }): Promise<void> {
		const report = { verdict: findings.length ? 'fix' : 'clear', findings, checks: [], segments: [] };
		await db
			.insertInto('screenings')
			.values({
				log_id: logId,
				version: 3,
				profile: JSON.stringify(profile),
				report: JSON.stringify(report),
				cells: 'null',
				pulls: '[]',
				unmapped: '[]',
				brief: JSON.stringify(briefOf(report as unknown as Report)),
				created_at: new Date().toISOString()
			})
			.execute();
	}
	const lean = { code: 'fuel.lean', severity: 'fix', bank: 2, value: 6, unit: '%' };

	it('need a reason, hold over the logs of the job, and can be taken back', async () => {
		const id = await logWith([lean], 'a');
		const give = (reason: string, kind = 'false-alarm') =>
			answerFinding(db, jobId, id, 'Sable', { key: 'fuel.lean b2', kind, reason });
		await expect(give(' ')).rejects.toThrow('write why');
		await expect(give('because', 'whatever')).rejects.toThrow('kind');
		await give('exhaust leak, seen on the photo');
		await give('gasket replaced', 'resolved');
		expect((await answersOf(db, jobId))['fuel.lean b2']).toMatchObject({ kind: 'resolved', author: 'Sable' });
		await takeBack(db, jobId, 'fuel.lean b2');
		expect((await answersOf(db, jobId))['fuel.lean b2']).toMatchObject({ kind: 'false-alarm' });
	});
	it('any finding can be answered, also one of two of its check; what is none can not', async () => {
		const kinds = ['stuck', 'range', 'pegged'];
		const dead = kinds.map((kind) => ({ ...lean, code: 'log.sensor', kind, bank: undefined }));
		const id = await logWith(dead as never, 'a');
		const give = (key: string) =>
			answerFinding(db, jobId, id, 'Sable', { key, kind: 'accepted', reason: 'the column is dead, known' });
		for (const kind of kinds) await give(findingKey({ code: 'log.sensor', kind }));
		expect(Object.keys(await answersOf(db, jobId))).toContain('log.sensor stuck');
		await expect(give('no.such stuck')).rejects.toThrow('is no finding of this log');
		await expect(give('fuel.lean; drop')).rejects.toThrow('is no finding of this log');
	});
	it('the history of a finding counts the newest run of each log', async () => {
		const first = await logWith([lean], 'a');
		await logWith([], 'b');
		const last = await logWith([{ ...lean, value: 4, severity: 'watch' }], 'c');
		expect((await historyOf(db, jobId))['fuel.lean b2']!.map((h) => [h.logId, h.severity])).toEqual([
			[first, 'fix'],
			[last, 'watch']
		]);
		await screened(first, []);
		expect((await historyOf(db, jobId))['fuel.lean b2']!.map((h) => h.logId)).toEqual([last]);
	});
	it('earlier runs are kept, with the limits that were other then', async () => {
		const id = await logWith([lean], 'a');
		await screened(id, [], { dutyWatchPct: 75 });
		expect(await earlierRuns(db, id)).toMatchObject([
			{ verdict: 'fix', findings: 1, limits: [{ name: 'dutyWatchPct', then: 80, now: 75 }] }
		]);
		expect((await timelineOf(db, jobId)).find((b) => b.kind === 'log')!.state).toBe('clear');
	});
});

describe('settings of a tuner', () => {
	it('are kept by tuner, and a stored one that no longer holds is none', async () => {
		await saveSetting(db, 'a', 'lanes', ['rpm', 'map']);
		await saveSetting(db, 'a', 'lanes', ['map']);
		expect(await setting(db, 'a', 'lanes')).toEqual(['map']);
		expect(await setting(db, 'b', 'lanes')).toBeNull();
		await db.updateTable('tuner_settings').set({ value: '["gone"]' }).execute();
		expect(await setting(db, 'a', 'lanes')).toBeNull();
		expect(SETTINGS.lanes.safeParse(['rpm', 'nonsense']).success).toBe(false);
	});
});

describe('received files', () => {
	const text = 'Time,RPM\n'.concat('0.1,900\n'.repeat(5000));
	const put = (bytes: Uint8Array | string) =>
		receive(folder, new Blob([bytes as BlobPart]).stream() as unknown as ReadableStream<Uint8Array>, 1 << 20);
	async function read(sha256: string): Promise<string> {
		const parts: Buffer[] = [];
		for await (const chunk of openFile(folder, sha256)) parts.push(chunk as Buffer);
		return Buffer.concat(parts).toString('utf8');
	}
	it('are kept compressed, and come back byte for byte', async () => {
		const { sha256 } = await put(text);
		expect(await packFile(folder, sha256)).toBe(true);
		expect(existsSync(pathOfFile(folder, sha256))).toBe(false);
		expect(statSync(`${pathOfFile(folder, sha256)}.gz`).size).toBeLessThan(text.length / 20);
		expect(await read(sha256)).toBe(text);
		expect(await packFile(folder, sha256)).toBe(true);
	});
	it('that came compressed stay as they are', async () => {
		const { sha256 } = await put(gzipSync(text));
		expect(await packFile(folder, sha256)).toBe(false);
		expect(existsSync(pathOfFile(folder, sha256))).toBe(true);
	});
	it('that arrived in pieces are taken over without a copy, and stay until their log is written', async () => {
		const { sha256, bytes } = await put(text);
		const path = join(folder, 'pieces');
		const { writeFileSync } = await import('node:fs');
		writeFileSync(path, text);
		expect(await adopt(folder, path, 1 << 20)).toEqual({ sha256, bytes });
		expect(existsSync(path)).toBe(true);
		expect(statSync(pathOfFile(folder, sha256)).ino).toBe(statSync(path).ino);
		await expect(adopt(folder, path, 10)).rejects.toThrow('larger than');
	});
	it('a stored file that is gone is an error, not an empty log', async () => {
		await expect(read('0'.repeat(64))).rejects.toThrow('ENOENT');
	});
});
