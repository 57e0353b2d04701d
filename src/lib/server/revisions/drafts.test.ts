/** Ids that are never given twice, and two windows on one draft. */
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';
import { draftBodySchema } from '$lib/server/http/draft-body.ts';
import { removeLog } from '$lib/server/logs/logs.ts';
import {
	ChangedElsewhere,
	createDraft,
	currentRevision,
	discardDraft,
	revision,
	saveChanges
} from './revisions.ts';
import { cell, draftWith, openWorld, putJob, unread, type World } from '$lib/server/testing/world.ts';
import { addLog } from '$lib/server/use-cases/receive.ts';

let world: World;
let db: Db;
let jobId: number;
beforeEach(async () => {
	world = await openWorld();
	db = world.db;
	jobId = await putJob(db, { email: 'ada@wren.example' });
});
afterEach(() => world.close());

describe('ids', () => {
	it('of a discarded draft are given to no other', async () => {
		const draft = await draftWith(db, jobId);
		await discardDraft(db, draft);
		const next = await draftWith(db, jobId);
		expect(next.id).toBeGreaterThan(draft.id);
		await expect(saveChanges(db, draft, [cell(1)], [], draft.version)).rejects.toThrow('was discarded');
	});
	it('of a removed log neither, and its file goes', async () => {
		const words = { kind: 'drive' as const, words: '', momentS: null, answers: {} };
		const sha = 'ab'.repeat(32);
		mkdirSync(join(world.folder, 'files', 'ab'), { recursive: true });
		writeFileSync(join(world.folder, 'files', 'ab', sha), 'x');
		const first = await addLog(unread(world), jobId, 'l', { sha256: sha, bytes: 1 }, 'tuner', { words });
		await removeLog({ db, dataDir: world.folder }, { id: first.id, sha256: sha } as never);
		expect(existsSync(join(world.folder, 'files', 'ab', sha))).toBe(false);
		expect(await nextId(db, 'logs')).toBeGreaterThan(first.id);
	});
	it('come one by one from many at once', async () => {
		const all = await Promise.all(Array.from({ length: 40 }, () => nextId(db, 'photos')));
		expect(new Set(all).size).toBe(40);
	});
});

describe('a save that names a part', () => {
	it('keeps what it does not name: what was decided against', async () => {
		const draft = await draftWith(db, jobId);
		await saveChanges(db, draft, [cell(61)], [], draft.version, ['fuel.table|1000|50']);
		const stored = (await revision(db, draft.id))!;
		await saveChanges(db, stored, [cell(62)], undefined, stored.version);
		expect((await revision(db, draft.id))!.rejected).toEqual(['fuel.table|1000|50']);
		const parsed = draftBodySchema.parse({ job: jobId, version: 3, changes: [] });
		expect(parsed).toEqual({ job: jobId, version: 3, changes: [] });
	});
});

describe('two windows on one draft', () => {
	it('a save on an older version is told what is stored', async () => {
		const draft = await draftWith(db, jobId);
		expect(await saveChanges(db, draft, [cell(61)], [], draft.version)).toBe(draft.version + 1);
		const late = await saveChanges(db, draft, [cell(62)], [], draft.version).catch((e: unknown) => e);
		expect(late).toBeInstanceOf(ChangedElsewhere);
		expect((late as ChangedElsewhere).stored.changes[0]!.to).toBe(61);
		expect((await revision(db, draft.id))!.changes[0]!.to).toBe(61);
	});
	it('of two at once one is stored', async () => {
		const draft = await draftWith(db, jobId);
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
