/** What a customer can download of a released revision: its closed files, and the tables in plain numbers only where a tuner said so. */
import { InputError } from '$core/input-error.ts';
import { attachmentsOf, type Attachment } from './attachments.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { Revision } from './revisions.ts';

export interface HandedOut {
	files: Attachment[];
	/** The tables, and who said so when; `null` where they stay in the workshop. */
	tables: { author: string; at: string } | null;
}

/** Nothing of a revision that isn't released. */
export async function handedOut(db: Db, rev: Pick<Revision, 'id' | 'state'>): Promise<HandedOut> {
	if (rev.state !== 'released') return { files: [], tables: null };
	const row = await db
		.selectFrom('handed_tables')
		.select(['author', 'created_at as at'])
		.where('revision_id', '=', rev.id)
		.executeTakeFirst();
	return { files: await attachmentsOf(db, rev.id), tables: row ?? null };
}

/**
 * Opens the tables of a released revision to its customer, or closes them again.
 * @throws InputError when it isn't released
 */
export async function handTables(
	db: Db,
	rev: Pick<Revision, 'id' | 'number' | 'state'>,
	open: boolean,
	author: string,
	now = new Date()
): Promise<void> {
	if (rev.state !== 'released') throw new InputError(`R${rev.number} is not released`);
	if (!open) {
		await db.deleteFrom('handed_tables').where('revision_id', '=', rev.id).execute();
		return;
	}
	await db
		.insertInto('handed_tables')
		.values({ revision_id: rev.id, author, created_at: now.toISOString() })
		.onConflict((c) => c.column('revision_id').doNothing())
		.execute();
}

/** The name under which the tables of a revision go out. */
export const tablesName = (rev: Pick<Revision, 'number'>): string => `R${rev.number}.json`;
