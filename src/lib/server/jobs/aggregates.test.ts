/** Jobs, revisions, links and files against a real database in a folder of its own. */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ReadableStream } from 'node:stream/web';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Calibration } from '$core/calibration/document.ts';
import type { DraftChange } from '$core/revising/edit-schema.ts';
import { vehicleWith } from '$core/testing/hand-made.ts';
import { answerFinding } from '$lib/server/logs/finding-answers.ts';
import { migrate, type Db } from '$lib/server/db/open.ts';
import { pathOfFile, receive, safeName } from '$lib/server/storage/files.ts';
import { createJob, jobView, setWaiting } from './jobs.ts';
import { jobOfToken, renewLink } from './links.ts';
import { neighbour, queue } from './queue.ts';
import { examinedOf, releaseCheck } from '$lib/server/revisions/release-check.ts';
import { openStopIn } from './open-findings.ts';
import { confirmInstalled, eventsOf, holdAnswersOf } from '$lib/server/revisions/revision-events.ts';
import {
	contentHash,
	createDraft,
	currentRevision,
	discardDraft,
	revision,
	saveChanges,
	type Revision
} from '$lib/server/revisions/revisions.ts';
import {
	takeBack,
	NOT_REPLAYED,
	openWorld,
	putLog,
	putScreening,
	SMALL_CALIBRATION,
	type World,
	releaseAll
} from '$lib/server/testing/world.ts';
import { freeze } from '$lib/server/use-cases/release.ts';
import { timelineOf } from './timeline.ts';

let world: World;
let folder: string;
let db: Db;
beforeEach(async () => {
	world = await openWorld();
	({ folder, db } = world);
});
afterEach(() => world.close());

const calibration = () => SMALL_CALIBRATION;
const job = (title = 'A job', customer = 'Nell Arden') =>
	createJob(db, { customer, email: null, title, vehicle: vehicleWith(), calibration: calibration() });
const change = (to: number, more: Partial<DraftChange> = {}): DraftChange => ({
	item: 'fuel.table',
	x: 2000,
	y: 100,
	from: 85,
	to,
	basis: 'measured',
	samples: 40,
	se: 0.2,
	reason: 'measured lean there',
	findings: ['fuel.lean'],
	...more
});
async function draftOf(jobId: number) {
	const parent = await revision(db, (await currentRevision(db, jobId)).id);
	return (await revision(db, await createDraft(db, parent!, null, [])))!;
}
/** A screened log with one finding, as a worker would leave it. */
async function screenedLog(jobId: number, verdict: 'stop' | 'fix' | 'watch' | 'clear', sha256: string) {
	const log = await putLog(db, jobId, { sha256 });
	await putScreening(db, log, verdict === 'clear' ? [] : [{ severity: verdict, title: `a ${verdict}` }]);
	await setWaiting(db, jobId, 'tuner');
	return log;
}

describe('taking a job on', () => {
	it('stores customer, vehicle and R0 together, and knows a customer again', async () => {
		const a = await job('first');
		const b = await job('second');
		expect((await jobView(db, a))?.customerId).toBe((await jobView(db, b))?.customerId);
		expect((await timelineOf(db, a)).map((x) => [x.label, x.state])).toEqual([['R0', 'baseline']]);
	});
	it('leaves nothing behind when a part of it is wrong', async () => {
		const broken = {
			...calibration(),
			items: [{ id: 'a', kind: 'scalar', value: 'x' }]
		} as unknown as Calibration;
		await expect(
			createJob(db, {
				customer: 'Nobody',
				email: null,
				title: 't',
				vehicle: vehicleWith(),
				calibration: broken
			})
		).rejects.toThrow('items[0].value');
		expect(await db.selectFrom('customers').selectAll().execute()).toEqual([]);
	});
	it('migrates a database that is up to date without touching it', async () => {
		await job();
		await migrate(db);
		expect(await db.selectFrom('jobs').selectAll().execute()).toHaveLength(1);
	});
});

describe('the queue', () => {
	it('puts stops first, then what has waited longest, and the customer’s turn last', async () => {
		const [calm, stop, old, theirs] = [
			await job('calm'),
			await job('stop'),
			await job('old fix'),
			await job('theirs')
		];
		await screenedLog(calm!, 'watch', 'a');
		await screenedLog(stop!, 'stop', 'b');
		await screenedLog(old!, 'fix', 'c');
		await setWaiting(db, old!, 'tuner', new Date(Date.now() - 9e6));
		expect((await queue(db)).rows.map((r) => r.title)).toEqual(['stop', 'old fix', 'calm', 'theirs']);
		expect(theirs).toBeGreaterThan(0);
	});
	it('says what changed since the log before, and leads from job to job', async () => {
		const [a, b] = [await job('first'), await job('second')];
		await screenedLog(a!, 'watch', 'a');
		await screenedLog(a!, 'stop', 'b');
		await screenedLog(b!, 'fix', 'c');
		const { rows } = await queue(db);
		expect(rows[0]!.since).not.toBeNull();
		expect(rows[1]!.since).toBeNull();
		expect(await neighbour(db, a!, 1)).toMatchObject({ job: b });
		expect((await neighbour(db, a!, 1))!.log).toBe(rows[1]!.logId);
		expect(await neighbour(db, a!, -1)).toBeNull();
		expect(await neighbour(db, b!, 1)).toBeNull();
	});
});

describe('revisions', () => {
	it('hash the content, whatever the order of keys', () => {
		const c = calibration();
		const turned = JSON.parse(JSON.stringify(c, Object.keys(c).reverse())) as Calibration;
		expect(contentHash({ ...turned, items: c.items })).toBe(contentHash(c));
		expect(contentHash({ ...c, name: 'other' })).not.toBe(contentHash(c));
	});
	it('a draft is its parent with exactly its changes, also when changes are taken back', async () => {
		const draft = await draftOf(await job());
		await saveChanges(db, draft, [change(90), change(6800, { item: 'limit.rpm', x: 0, y: 0, from: 7000 })]);
		const changed = (await revision(db, draft.id))!;
		expect(changed.calibration.items).toMatchObject([
			{
				values: [
					[70, 75],
					[80, 90]
				]
			},
			{ value: 6800 }
		]);
		await saveChanges(db, changed, []);
		expect((await revision(db, draft.id))!.contentHash).toBe(contentHash(calibration()));
	});
	it('one draft at a time; a discarded one frees its number', async () => {
		const id = await job();
		const draft = await draftOf(id);
		await expect(draftOf(id)).rejects.toThrow('R1 is still a draft');
		await discardDraft(db, draft);
		expect((await draftOf(id)).number).toBe(1);
	});
	const release = async (draft: Revision | null, answers: Record<string, string> = {}) =>
		freeze(
			db,
			draft!,
			{
				notes: 'n',
				answers,
				author: 'Sable Orrin',
				filesConfirmed: true,
				givesTables: false,
				examined: await examinedOf(db, draft!)
			},
			NOT_REPLAYED
		);
	it('a release needs changes, and a reason for each', async () => {
		const draft = await draftOf(await job());
		await expect(release(draft)).rejects.toThrow('nothing to release');
		await saveChanges(db, draft, [change(90, { reason: ' ' })]);
		await expect(release(await revision(db, draft.id))).rejects.toThrow('Changes without a reason: VE');
	});
	it('while a stop stands only what makes things safer gets through, or a written reason', async () => {
		const id = await job();
		await screenedLog(id, 'stop', 'a');
		const draft = await draftOf(id);
		await saveChanges(db, draft, [change(80)]);
		const riskier = (await revision(db, draft.id))!;
		const check = await releaseCheck(db, riskier, NOT_REPLAYED);
		expect(check.onlySafer).toBe(false);
		expect(check.holds[0]!.title).toContain('Open at stop');
		await expect(release(riskier)).rejects.toThrow('Open at stop');
		await expect(release(riskier, { [check.holds[0]!.id]: 'short' })).rejects.toThrow('Open at stop');
		await saveChanges(db, draft, [change(90)]);
		await release(await revision(db, draft.id));
		expect((await revision(db, draft.id))!.state).toBe('released');
		expect(await holdAnswersOf(db, draft.id)).toEqual([]);
	});
	it('keeps the reason that was written, and who wrote it', async () => {
		const id = await job();
		await screenedLog(id, 'stop', 'a');
		const draft = await draftOf(id);
		await saveChanges(db, draft, [change(80)]);
		const { holds } = await releaseCheck(db, (await revision(db, draft.id))!, NOT_REPLAYED);
		const answers = Object.fromEntries(
			holds.map((h) => [h.id, 'the sensor was changed since, see the photos'])
		);
		await release(await revision(db, draft.id), answers);
		const kept = await holdAnswersOf(db, draft.id);
		expect(kept).toHaveLength(holds.length);
		expect(kept[0]).toMatchObject({ author: 'Sable Orrin', reason: answers[holds[0]!.id]! });
	});
	it('a finding that was resolved and comes back holds again; one that was accepted does not', async () => {
		const id = await job();
		const first = await screenedLog(id, 'stop', 'a');
		const draft = await draftOf(id);
		await saveChanges(db, draft, [change(80)]);
		const held = async () =>
			(await releaseCheck(db, (await revision(db, draft.id))!, NOT_REPLAYED)).holds.map((h) => h.id);
		const [before] = await held();
		const key = before!.replace('finding ', '');
		await answerFinding(db, id, first, 'S', { key, kind: 'resolved', reason: 'injectors cleaned' });
		expect(await held()).toEqual([]);
		const second = await screenedLog(id, 'stop', 'b');
		expect(await held()).toContain(before);
		await answerFinding(db, id, second, 'S', { key, kind: 'accepted', reason: 'known and harmless here' });
		await screenedLog(id, 'stop', 'c');
		expect(await held()).toEqual([]);
	});
	it('an answer holds for what is no graver, on the same revision; beyond it is asked again, with the answer beside it', async () => {
		const id = await job();
		const first = await screenedLog(id, 'fix', 'a');
		const draft = await draftOf(id);
		await saveChanges(db, draft, [change(80)]);
		const holds = async (of: number) =>
			(await releaseCheck(db, (await revision(db, of))!, NOT_REPLAYED)).holds;
		const [before] = await holds(draft.id);
		const key = before!.id.replace('finding ', '');
		await answerFinding(db, id, first, 'S', { key, kind: 'accepted', reason: 'known and harmless here' });
		expect(await holds(draft.id)).toEqual([]);
		await screenedLog(id, 'watch', 'b');
		expect(await holds(draft.id)).toEqual([]);
		await screenedLog(id, 'stop', 'c');
		const again = (await holds(draft.id)).find((h) => h.id === before!.id);
		expect(again?.why).toContain('accepted, known and harmless here (S)');
		expect(await openStopIn(db, id)).not.toBeNull();
		// The same finding as mild as it was, on the next file: another file, asked again.
		await screenedLog(id, 'fix', 'd');
		expect(await holds(draft.id)).toEqual([]);
		const out = await releaseAll(db, (await revision(db, draft.id))!);
		await screenedLog(id, 'fix', 'e');
		const next = await createDraft(db, out, null, []);
		await saveChanges(db, (await revision(db, next))!, [change(70)]);
		expect((await holds(next)).map((h) => h.id)).toContain(before!.id);
	});
	it('a page that was opened before a graver log came releases nothing over it', async () => {
		const id = await job();
		await screenedLog(id, 'fix', 'a');
		const draft = await draftOf(id);
		await saveChanges(db, draft, [change(80)]);
		const ready = (await revision(db, draft.id))!;
		const opened = await examinedOf(db, ready);
		// The same finding, graver: its hold has the same id, and the reason was written for the milder one.
		await screenedLog(id, 'stop', 'b');
		await expect(releaseAll(db, ready, { examined: opened })).rejects.toThrow(
			'what the newest log found was changed'
		);
		expect((await revision(db, draft.id))!.state).toBe('draft');
		await releaseAll(db, ready);
	});
	it('a closed file has to be confirmed', async () => {
		const draft = await draftOf(await job());
		await saveChanges(db, draft, [change(90)]);
		await db
			.insertInto('attachments')
			.values({
				revision_id: draft.id,
				name: 'a',
				bytes: 1,
				sha256: 'x',
				hardware: 'h',
				software: 's',
				created_at: ''
			})
			.execute();
		const ready = (await revision(db, draft.id))!;
		await expect(
			freeze(
				db,
				ready,
				{
					notes: 'n'.repeat(6001),
					answers: {},
					author: 'S',
					filesConfirmed: true,
					givesTables: false,
					examined: await examinedOf(db, ready)
				},
				NOT_REPLAYED
			)
		).rejects.toThrow('too long');
		expect((await revision(db, draft.id))!.state).toBe('draft');
		await expect(
			freeze(
				db,
				ready,
				{
					notes: 'n',
					answers: {},
					author: 'S',
					filesConfirmed: false,
					givesTables: false,
					examined: await examinedOf(db, ready)
				},
				NOT_REPLAYED
			)
		).rejects.toThrow('confirm that the closed file');
		await release(ready);
	});
	it('is confirmed by the customer once, and withdrawn with a reason; neither touches the frozen revision', async () => {
		const draft = await draftOf(await job());
		await expect(confirmInstalled(db, draft, 'c')).rejects.toThrow('not released');
		await saveChanges(db, draft, [change(90)]);
		await release(await revision(db, draft.id));
		const out = (await revision(db, draft.id))!;
		await confirmInstalled(db, out, 'Ada');
		await confirmInstalled(db, out, 'Ada');
		await expect(takeBack(db, out, 'no')).rejects.toThrow('write why');
		await takeBack(db, out, 'made from the wrong log');
		expect((await eventsOf(db, out.id)).map((e) => e.kind)).toEqual(['installed', 'withdrawn']);
		await expect(confirmInstalled(db, out, 'Ada')).rejects.toThrow('withdrawn');
		expect((await revision(db, draft.id))!.contentHash).toBe(out.contentHash);
	});
	it('are frozen by the database itself once released', async () => {
		const draft = await draftOf(await job());
		await saveChanges(db, draft, [change(90)]);
		await release(await revision(db, draft.id));
		await expect(saveChanges(db, (await revision(db, draft.id))!, [])).rejects.toThrow("can't be changed");
		await expect(
			db.updateTable('revisions').set({ notes: 'x' }).where('id', '=', draft.id).execute()
		).rejects.toThrow('cannot be changed');
		await expect(db.deleteFrom('revisions').where('id', '=', draft.id).execute()).rejects.toThrow(
			'cannot be deleted'
		);
	});
});

describe('the customer’s link', () => {
	it('opens its job until it is renewed or too old, and its token never stands in the database', async () => {
		const id = await job();
		const token = await renewLink(db, folder, id);
		expect(Buffer.from(token, 'base64url')).toHaveLength(32);
		expect(await jobOfToken(db, token)).toBe(id);
		expect(await jobOfToken(db, `${token}x`)).toBeNull();
		expect(await jobOfToken(db, token, new Date(Date.now() + 181 * 86_400_000))).toBeNull();
		const next = await renewLink(db, folder, id);
		expect(await jobOfToken(db, token)).toBeNull();
		expect(await jobOfToken(db, next)).toBe(id);
		expect(JSON.stringify(await db.selectFrom('links').selectAll().execute())).not.toContain(next);
	});
});

describe('received files', () => {
	const stream = (text: string) => new Blob([text]).stream() as unknown as ReadableStream<Uint8Array>;
	it('lie byte for byte under their hash, the same bytes once', async () => {
		const a = await receive(folder, stream('hello'), 100);
		const b = await receive(folder, stream('hello'), 100);
		// SHA-256 of "hello", as any tool gives it.
		expect(a).toEqual({
			sha256: '2cf24dba5fb0a30e26e83b2ac5b9e29e1b161e5c1fa7425e73043362938b9824',
			bytes: 5
		});
		expect(b.sha256).toBe(a.sha256);
		expect(readFileSync(pathOfFile(folder, a.sha256), 'utf8')).toBe('hello');
	});
	it.each([
		['', 100, 'the file is empty'],
		['x'.repeat(2000), 1000, 'larger than']
	])('%#: refused, and nothing is left behind', async (text, limit, message) => {
		await expect(receive(folder, stream(text), limit)).rejects.toThrow(message);
		expect(readdirSync(join(folder, 'incoming'))).toEqual([]);
		expect(existsSync(join(folder, 'files'))).toBe(false);
	});
	it('names from outside never become paths', () => {
		expect(safeName('../../etc/passwd')).toBe('passwd');
		expect(safeName('C:\\logs\\a.csv')).toBe('a.csv');
		expect(safeName('a\r\nb"<x>.csv')).toBe('abx.csv');
		expect(safeName('  ')).toBe('unnamed');
		expect(() => pathOfFile(folder, '../x')).toThrow('not a SHA-256');
	});
});
