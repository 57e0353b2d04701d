/** What several aggregates do together is done as a whole or not at all, and mail is only thought of afterwards. */
import { poolOf } from '$lib/server/testing/pool.ts';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { jobView, setWaiting, type JobView } from '$lib/server/jobs/jobs.ts';
import { renewLink } from '$lib/server/jobs/links.ts';
import { logLine } from '$lib/server/logs/logs.ts';
import type { Mailer } from '$lib/server/mail/mailer.ts';
import { askedByLink, messagesOf, unreachable, writeToCustomer } from '$lib/server/jobs/messages.ts';
import { currentRequest } from '$lib/server/jobs/drive-plans.ts';
import { eventsOf } from '$lib/server/revisions/revision-events.ts';
import { confirmedRevision, revision } from '$lib/server/revisions/revisions.ts';
import {
	draftWith,
	openWorld,
	putJob,
	putLog,
	putScreening,
	releaseAll,
	unread,
	type World
} from '$lib/server/testing/world.ts';
import { decline } from './decline.ts';
import { proposeFromLog } from './propose.ts';
import { addLog } from './receive.ts';
import { withdraw } from './withdraw.ts';

let world: World;
let job: JobView;
let woken: number;
/** Mails that were put down; `broken` refuses the next one. */
let broken: boolean;
const mailer = {
	put: () => (broken ? Promise.reject(new Error('no mail today')) : Promise.resolve(undefined)),
	wake: () => void woken++,
	off: null
} as unknown as Mailer;
const app = () => ({ db: world.db, mailer });

beforeEach(async () => {
	world = await openWorld();
	woken = 0;
	broken = false;
	job = (await jobView(world.db, await putJob(world.db, { email: 'ada@wren.example' })))!;
});
afterEach(() => world.close());

const waitingOn = async () => (await jobView(world.db, job.id))!.waitingOn;

describe('a customer who can’t be reached', () => {
	const off = { ...mailer, off: 'no mail server is set' } as unknown as Mailer;
	const ask = (by: Mailer) =>
		world.db
			.transaction()
			.execute((trx) => writeToCustomer(trx, by, job, 'Sable', 'Please make a log of an idle.'));
	it('is not counted as asked: the job goes on waiting for the tuner until there is a link', async () => {
		await setWaiting(world.db, job.id, 'tuner');
		await ask(off);
		expect(await unreachable(world.db, off, job)).toBe(
			'no mail server is set, and there is no link to their page'
		);
		expect(await waitingOn()).toBe('tuner');
		await renewLink(world.db, world.folder, job.id);
		await askedByLink(world.db, job.id);
		expect(await waitingOn()).toBe('customer');
		expect(await unreachable(world.db, off, job)).toBeNull();
	});
	it('a link asks nothing by itself: without a word of ours, or after a log of theirs, it stays with the tuner', async () => {
		await setWaiting(world.db, job.id, 'tuner');
		await renewLink(world.db, world.folder, job.id);
		await askedByLink(world.db, job.id);
		expect(await waitingOn()).toBe('tuner');
		await ask(mailer);
		expect(await waitingOn()).toBe('customer');
		await putLog(world.db, job.id, { at: new Date(Date.now() + 1000).toISOString() });
		await setWaiting(world.db, job.id, 'tuner');
		await askedByLink(world.db, job.id);
		expect(await waitingOn()).toBe('tuner');
	});
});

describe('a log that won’t do', () => {
	it('is noted, the customer is told and asked for another drive, and the job waits for them', async () => {
		const id = await putLog(world.db, job.id, { name: 'short.csv' });
		await decline(app(), job, { id }, 'Sable', 'It ends before the pull.', 'full-throttle');
		expect((await logLine(world.db, id))!.declinedAt).not.toBeNull();
		expect((await currentRequest(world.db, job.id))!.template).toBe('full-throttle');
		expect((await messagesOf(world.db, job.id)).map((m) => m.body)).toEqual(['It ends before the pull.']);
		expect(await waitingOn()).toBe('customer');
		expect(woken).toBe(1);
	});
	it('of a mail that can’t be put down nothing stays', async () => {
		const id = await putLog(world.db, job.id, { name: 'short.csv' });
		broken = true;
		await expect(decline(app(), job, { id }, 'Sable', 'It ends early.', '')).rejects.toThrow('no mail today');
		expect((await logLine(world.db, id))!.declinedAt).toBeNull();
		expect(await messagesOf(world.db, job.id)).toEqual([]);
		expect(woken).toBe(0);
	});
	it('takes words', async () => {
		const id = await putLog(world.db, job.id, { name: 'short.csv' });
		await expect(decline(app(), job, { id }, 'Sable', '  ', '')).rejects.toThrow('say what was wrong');
	});
});

describe('a revision that is taken back', () => {
	it('is so with its message, or stays out', async () => {
		const out = await releaseAll(world.db, await draftWith(world.db, job.id));
		broken = true;
		await expect(withdraw(app(), job, out, 'Sable', 'made from the wrong log')).rejects.toThrow('no mail');
		expect(await eventsOf(world.db, out.id)).toEqual([]);
		broken = false;
		await withdraw(app(), job, out, 'Sable', '  made from the wrong log ');
		expect((await eventsOf(world.db, out.id)).map((e) => [e.kind, e.reason])).toEqual([
			['withdrawn', 'made from the wrong log']
		]);
		expect((await messagesOf(world.db, job.id)).at(-1)!.body).toMatch(
			/^R1 is withdrawn.*made from the wrong log/
		);
		expect(woken).toBe(1);
		await expect(withdraw(app(), job, out, 'Sable', 'and once more')).rejects.toThrow('already withdrawn');
	});
});

describe('a proposal', () => {
	it('starts from the newest revision, whichever log it is made from', async () => {
		const log = await putLog(world.db, job.id, { name: 'first.csv' });
		await putScreening(world.db, log, []);
		const r1 = await releaseAll(world.db, await draftWith(world.db, job.id));
		const asked: number[] = [];
		const pool = poolOf({
			propose: async ({ revisionId }: { revisionId: number }) => {
				asked.push(revisionId);
				return { ok: true, proposal: { changes: [], held: [] } };
			}
		});
		const here = { db: world.db, dataDir: world.folder, pool } as never;
		const id = await proposeFromLog(here, 'tuner', (await logLine(world.db, log))!, null);
		expect(asked).toEqual([r1.id]);
		expect((await revision(world.db, id))!.parentId).toBe(r1.id);
	});
});

describe('a file that comes', () => {
	const here = () => unread(world);
	const file = (n: number) => ({ sha256: String(n).repeat(64), bytes: 1 });
	it('is a log once, however often it is sent', async () => {
		const first = await addLog(here(), job.id, 'a.csv', file(1), 'customer');
		expect(await addLog(here(), job.id, 'b.csv', file(1), 'tuner')).toEqual({
			id: first.id,
			duplicate: true
		});
	});
	it('of a customer counts for what is confirmed to be in the car, of a tuner for what was sent last', async () => {
		const out = await releaseAll(world.db, await draftWith(world.db, job.id));
		const theirs = await addLog(here(), job.id, 'a.csv', file(1), 'customer');
		const ours = await addLog(here(), job.id, 'b.csv', file(2), 'tuner');
		expect((await logLine(world.db, theirs.id))!.revisionId).toBe(
			(await confirmedRevision(world.db, job.id)).id
		);
		expect((await logLine(world.db, ours.id))!.revisionId).toBe(out.id);
	});
	it('can’t be said to be made with a draft', async () => {
		const draft = await draftWith(world.db, job.id);
		const words = { kind: 'drive' as const, words: '', momentS: null, answers: {}, revisionId: draft.id };
		await expect(addLog(here(), job.id, 'a.csv', file(1), 'tuner', { words })).rejects.toThrow('released');
	});
});
