/** Which stored files still belong to something: the same bytes may be a log here, a photo or an attachment there. */
import { rm } from 'node:fs/promises';
import type { Db } from '$lib/server/db/open.ts';
import { isArriving, pathOfFile } from './files.ts';

/** Tables whose rows name a file by its hash. */
export const STORED_IN = ['logs', 'photos', 'attachments', 'second_recorders', 'kit_files'] as const;

/** Takes the file behind a hash off the disk where nothing refers to it any more, and nothing is about to. */
export async function dropFile(db: Db, dataDir: string, sha256: string): Promise<void> {
	for (const table of STORED_IN)
		if (await db.selectFrom(table).select('id').where('sha256', '=', sha256).executeTakeFirst()) return;
	// The same bytes came in again just now: their row is about to be written. If it isn't, the sweep finds them.
	if (isArriving(sha256)) return;
	const path = pathOfFile(dataDir, sha256);
	await rm(path, { force: true });
	await rm(`${path}.gz`, { force: true });
}
