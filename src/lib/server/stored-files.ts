/** Which stored files still belong to something: the same bytes may be a log here, a photo or an attachment there. */
import { rm } from 'node:fs/promises';
import type { Db } from './db/open.ts';
import { pathOfFile } from './files.ts';

/** Takes the file behind a hash off the disk where nothing refers to it any more. */
export async function dropFile(db: Db, dataDir: string, sha256: string): Promise<void> {
	for (const table of ['logs', 'photos', 'attachments'] as const)
		if (await db.selectFrom(table).select('id').where('sha256', '=', sha256).executeTakeFirst()) return;
	const path = pathOfFile(dataDir, sha256);
	await rm(path, { force: true });
	await rm(`${path}.gz`, { force: true });
}
