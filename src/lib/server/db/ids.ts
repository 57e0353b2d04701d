/**
 * Ids that are never given twice. A page that was open when its draft was discarded still knows its id: were it given to another one,
 * that page would write into somebody else's.
 */
import { sql } from 'kysely';
import type { Db } from './open.ts';

/** Tables from which rows can go. */
export const LOSES_ROWS = [
	'customers',
	'vehicles',
	'jobs',
	'revisions',
	'logs',
	'log_channels',
	'photos',
	'attachments',
	'invitations',
	'timeslips',
	'knock_proofs',
	'swap_tests',
	'plug_readings',
	'maxima_readings',
	'kit_files'
] as const;
export type LosesRows = (typeof LOSES_ROWS)[number];

/** The next id of a table; of several the first. Atomic by itself; inside a transaction the ids go back with it. */
export async function nextId(db: Db, table: LosesRows, count = 1): Promise<number> {
	const highest = sql<number>`(select coalesce(max(id), 0) from ${sql.table(table)})`;
	const { last } = await db
		.insertInto('ids')
		.values({ name: table, last: sql<number>`${highest} + ${count}` })
		.onConflict((c) =>
			c.column('name').doUpdateSet({ last: sql<number>`max(ids.last, ${highest}) + ${count}` })
		)
		.returning('last')
		.executeTakeFirstOrThrow();
	return last - count + 1;
}
