/** The graph of the database: every table is a customer's, or known to be nobody's. */
import { sql } from 'kysely';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { openWorld, type World } from '$lib/server/testing/world.ts';
import { TIMELINE_TABLES } from '$lib/server/jobs/timeline-event.ts';
import { STORED_IN } from '$lib/server/storage/stored-files.ts';
import { belongings } from './belongings.ts';

let world: World;
beforeEach(async () => {
	world = await openWorld();
});
afterEach(() => world.close());

/** Tables of the workshop and of the server itself. */
const OF_NO_CUSTOMER = [
	'caught_mails',
	'ids',
	'kit_files',
	'invitations',
	'kysely_migration',
	'kysely_migration_lock',
	'leaving',
	'recording_kits',
	'sqlite_sequence',
	'table_layouts',
	'timeline',
	'tuner_settings',
	'workshop'
];

describe('what belongs to a customer', () => {
	it('is every table but those of the workshop and the server: a new one is reached, or said to be nobody’s', async () => {
		const { rows } = await sql<{ name: string }>`select name from sqlite_master where type = 'table'`.execute(
			world.db
		);
		const reached = (await belongings(world.db)).map((b) => b.table);
		expect([...reached, ...OF_NO_CUSTOMER].sort()).toEqual(rows.map((r) => r.name).sort());
	});
	it('stands behind what it refers to, and hangs on the job where it has one', async () => {
		const all = await belongings(world.db);
		const at = (table: string) => all.findIndex((b) => b.table === table);
		expect(all[0]!.table).toBe('customers');
		expect(at('messages')).toBeGreaterThan(at('mails'));
		expect(at('logs')).toBeGreaterThan(at('revisions'));
		expect(all[at('plug_readings')]).toMatchObject({ column: 'job_id', parent: 'jobs' });
		expect(all[at('knock_proof_steps')]!.parent).toBe('logs');
	});
	it('lies in files that every table with a hash is asked about before one goes', async () => {
		const { rows } = await sql<{
			name: string;
		}>`select m.name from sqlite_master m, pragma_table_info(m.name) c where m.type = 'table' and c.name = 'sha256'`.execute(
			world.db
		);
		expect([...STORED_IN].sort()).toEqual(rows.map((r) => r.name).sort());
	});
	it('is counted on the timeline by the triggers that are told of here', async () => {
		const { rows } = await sql<{ sql: string }>`select sql from sqlite_master where type = 'trigger'`.execute(
			world.db
		);
		const counted = rows.flatMap(({ sql: text }) => {
			const [, table, kind] = /on (\w+)[^]*into timeline \(kind, ref\) values \('(\w+)'/.exec(text) ?? [];
			return table ? [[kind, table] as const] : [];
		});
		expect(Object.fromEntries(counted)).toEqual(TIMELINE_TABLES);
	});
});
