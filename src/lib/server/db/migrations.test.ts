/** A folder of an earlier version becomes one of today's, with everything that was in it, in its order. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Migrator, sql } from 'kysely';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { createDraft, currentRevision, revision } from '$lib/server/revisions/revisions.ts';
import { searchFindings } from '$lib/server/jobs/findings-search.ts';
import { queue } from '$lib/server/jobs/queue.ts';
import type { TimelineEvent } from '$lib/server/jobs/timeline-event.ts';
import { timelineOf } from '$lib/server/jobs/timeline.ts';
import { vehicleWith } from '$core/testing/hand-made.ts';
import { putJob, putLog, SMALL_CALIBRATION } from '$lib/server/testing/world.ts';
import { migrations } from './migrations.ts';
import { connect, migrate, type Db } from './open.ts';

/** A log by its file, anything else by its label. */
const called = (e: TimelineEvent) => (e.kind === 'log' ? e.detail.split(' · ')[0] : e.label);

let folder: string;
let db: Db;
beforeEach(() => {
	folder = mkdtempSync(join(tmpdir(), 'tanto-migrate-'));
	db = connect(folder);
});
afterEach(async () => {
	await db.destroy();
	rmSync(folder, { recursive: true });
});

/** The schema as it was before the order of events was counted. */
const BEFORE_ORDER = '009-holds-that-hold';

/** A job with its R0, as that version stored it: by its own words, for today's have learnt more. */
async function jobOfThen(title: string, at: string): Promise<number> {
	const vehicle = JSON.stringify(vehicleWith());
	const calibration = JSON.stringify(SMALL_CALIBRATION);
	await sql`insert into customers (id, name, created_at) values (1, 'Nell Arden', ${at})`.execute(db);
	await sql`insert into vehicles (id, customer_id, document, created_at) values (1, 1, ${vehicle}, ${at})`.execute(
		db
	);
	await sql`insert into jobs (id, customer_id, vehicle_id, title, waiting_on, waiting_since, created_at)
		values (1, 1, 1, ${title}, 'customer', ${at}, ${at})`.execute(db);
	await sql`insert into revisions (id, job_id, number, state, document, content_hash, changes, proposal_logs, notes, created_at)
		values (1, 1, 0, 'baseline', ${calibration}, 'h', '[]', '[]', '', ${at})`.execute(db);
	return 1;
}

it('what was stored before its order was counted keeps the order of its times', async () => {
	const { error } = await new Migrator({
		db,
		provider: { getMigrations: async () => migrations }
	}).migrateTo(BEFORE_ORDER);
	expect(error).toBeUndefined();
	const id = await jobOfThen('older', '2030-01-01T08:00:00.000Z');
	// Stored in another order than it happened, as two windows would.
	await putLog(db, id, { name: 'second.csv', at: '2030-01-03T08:00:00.000Z' });
	await putLog(db, id, { name: 'first.csv', at: '2030-01-02T08:00:00.000Z' });
	const [second] = await db.selectFrom('logs').select('id').where('name', '=', 'second.csv').execute();
	const report = JSON.stringify({
		verdict: 'stop',
		findings: [
			{ code: 'fuel.lean', severity: 'stop', title: 'Lean under load', value: 9, unit: '%' },
			{ code: 'volt.supply', severity: 'note', title: 'Supply' }
		],
		checks: [{ code: 'misfire', outcome: 'not-checked' }],
		segments: [{ kind: 'pull', from: 10, to: 16, gear: 3 }]
	});
	await sql`insert into screenings (log_id, version, profile, report, cells, pulls, unmapped, created_at)
		values (${second!.id}, 5, '{}', ${report}, 'null', '[]', '[]', '2030-01-03T09:00:00.000Z')`.execute(db);
	await sql`insert into messages (job_id, kind, author, body, created_at)
		values (${id}, 'note', 'Sable', 'between them', '2030-01-02T12:00:00.000Z')`.execute(db);

	await migrate(db);
	expect((await timelineOf(db, id)).map(called)).toEqual(['R0', 'first.csv', 'Note', 'second.csv']);
	// What was found before is found by the search as well.
	expect((await searchFindings(db, { what: 'fuel.lean' })).rows[0]).toMatchObject({
		value: 9,
		title: 'Lean under load'
	});
	const stored = await db.selectFrom('screenings').select(['brief', 'verdict']).executeTakeFirstOrThrow();
	expect(stored.verdict).toBe('stop');
	expect(JSON.parse(stored.brief)).toMatchObject({
		findings: [{ code: 'fuel.lean', value: 9 }, { severity: 'note' }],
		unchecked: ['misfire'],
		pulls: [{ from: 10, gear: 3 }]
	});
	// What comes after stands behind all of it.
	await createDraft(db, (await revision(db, (await currentRevision(db, id)).id))!, null, []);
	expect((await timelineOf(db, id)).at(-1)!.label).toBe('R1');
	expect((await queue(db)).rows.map((r) => r.title)).toEqual(['older']);
});

it('bringing it up to date twice changes nothing', async () => {
	await migrate(db);
	const id = await putJob(db);
	await migrate(db);
	expect((await timelineOf(db, id)).map((e) => e.label)).toEqual(['R0']);
});
