/** What goes out, what holds it, and what is in the car. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Db } from '$lib/server/db/open.ts';
import { examinedOf, releaseCheck } from './release-check.ts';
import { confirmInstalled } from './revision-events.ts';
import {
	confirmedRevision,
	createDraft,
	currentRevision,
	revision,
	saveChanges,
	type Revision
} from './revisions.ts';
import {
	cell,
	draftWith,
	NOT_REPLAYED,
	openWorld,
	putJob,
	putLog,
	putScreening,
	releaseAll,
	type World
} from '$lib/server/testing/world.ts';

let world: World;
let db: Db;
let jobId: number;
beforeEach(async () => {
	world = await openWorld();
	db = world.db;
	jobId = await putJob(db, { email: 'ada@wren.example' });
});
afterEach(() => world.close());

describe('a release', () => {
	it('goes out with what was examined, or not at all', async () => {
		const draft = await draftWith(db, jobId);
		const seen = await examinedOf(db, draft);
		// The page is open; somebody saves other cells.
		await saveChanges(db, draft, [cell(40)]);
		await expect(releaseAll(db, (await revision(db, draft.id))!, { examined: seen })).rejects.toThrow(
			'was changed since this page'
		);
		// The same between the examination and the freezing: the old draft object is what was examined.
		await expect(releaseAll(db, draft)).rejects.toThrow('was changed since this page');
		expect((await revision(db, draft.id))!.state).toBe('draft');
		await releaseAll(db, (await revision(db, draft.id))!);
		expect((await revision(db, draft.id))!.state).toBe('released');
	});
	it('goes out with the files that were examined', async () => {
		const draft = await draftWith(db, jobId);
		const seen = await examinedOf(db, draft);
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
		await expect(releaseAll(db, draft, { examined: seen })).rejects.toThrow(
			'a closed file of R1 was changed'
		);
	});
	it('takes nothing along when what goes with it fails', async () => {
		const draft = await draftWith(db, jobId);
		await expect(
			releaseAll(db, draft, {
				inside: async () => {
					throw new Error('the disk is full');
				}
			})
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
			const log = await putLog(db, jobId, { state: 'screened' });
			await putScreening(db, log, [{ code: 'fuel.lean', severity: 'stop', title: 'Lean under load' }]);
			const draft = await draftWith(db, jobId);
			await db.updateTable('logs').set({ state }).where('id', '=', log).execute();
			expect((await ids(draft)).map((h) => h.id)).toContain('finding fuel.lean');
		}
	);
	it('a log that is being read can not be answered away, one that failed can', async () => {
		const reading = await putLog(db, jobId, { state: 'reading' });
		const failed = await putLog(db, jobId, { state: 'failed' });
		const holds = await ids(await draftWith(db, jobId));
		expect(holds.find((h) => h.id === `reading ${reading}`)).toMatchObject({ answerable: false });
		expect(holds.find((h) => h.id === `unread ${failed}`)).toMatchObject({ answerable: true });
	});
	it('a draft from an older revision is held against the newest, and names what it takes back', async () => {
		await putScreening(db, await putLog(db, jobId), []);
		await releaseAll(db, await draftWith(db, jobId, [cell(60)]));
		const r0 = (
			await db.selectFrom('revisions').select('id').where('number', '=', 0).executeTakeFirstOrThrow()
		).id;
		const id = await createDraft(db, (await revision(db, r0))!, null, []);
		await saveChanges(db, (await revision(db, id))!, [cell(90, 2000)]);
		const check = await releaseCheck(db, (await revision(db, id))!, NOT_REPLAYED);
		const hold = check.holds.find((h) => h.id === 'goes-back')!;
		expect(hold).toMatchObject({ title: 'Goes back behind R1', answerable: true });
		expect(hold.why).toContain('VE');
		// R1 took fuel out of one cell, so that going back adds some there: both are seen against R1.
		expect(check.changes).toMatchObject([{ item: 'fuel.table', cellsChanged: 2 }]);
	});
	it('cells of a log that was taken out are held by its name, until they are vouched for', async () => {
		const log = await putLog(db, jobId, { name: 'other-car.csv' });
		await putScreening(db, log, []);
		const draft = await draftWith(db, jobId, [{ ...cell(90), basis: 'measured' }]);
		await db
			.updateTable('revisions')
			.set({ proposal_logs: JSON.stringify([log]) })
			.where('id', '=', draft.id)
			.execute();
		const held = async () => (await ids((await revision(db, draft.id))!)).map((h) => h.id);
		expect(await held()).toEqual([]);
		await db
			.updateTable('logs')
			.set({ taken_out: 'another car', taken_out_by: 'Sable' })
			.where('id', '=', log)
			.execute();
		expect(await held()).toEqual([`evidence ${log}`]);
		// What a person set by hand rests on that person.
		await saveChanges(db, (await revision(db, draft.id))!, [cell(90)]);
		expect(await held()).toEqual([]);
	});
	it('a log that was declined says nothing', async () => {
		const failed = await putLog(db, jobId, { state: 'failed' });
		await db.updateTable('logs').set({ declined_at: 'now' }).where('id', '=', failed).execute();
		expect((await ids(await draftWith(db, jobId))).some((h) => h.id.startsWith('unread'))).toBe(false);
	});
	it('what only adds fuel gets through them all', async () => {
		await putLog(db, jobId, { state: 'reading' });
		expect(await ids(await draftWith(db, jobId, [cell(90)]))).toEqual([]);
	});
});

describe('what is in the car', () => {
	it('is what the customer confirmed; a log of theirs counts as made with it', async () => {
		const r0 = await currentRevision(db, jobId);
		const draft = await draftWith(db, jobId);
		await releaseAll(db, draft);
		expect((await confirmedRevision(db, jobId)).id).toBe(r0.id);
		await confirmInstalled(db, (await revision(db, draft.id))!, 'Ada');
		expect((await confirmedRevision(db, jobId)).id).toBe(draft.id);
	});
});
