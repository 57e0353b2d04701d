/** Takes away what no row names: left over where a stop came between a row and its file. */
import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Db } from '$lib/server/db/open.ts';
import { isArriving } from '$lib/server/storage/files.ts';
import { STORED_IN } from '$lib/server/storage/stored-files.ts';
import { dropUploadsWithoutJob } from '$lib/server/use-cases/uploads.ts';

/** What arrived a moment ago may get its row in the next. */
const GRACE_MS = 3_600_000;

export interface Swept {
	files: number;
	bytes: number;
	uploads: number;
}

async function named(db: Db): Promise<Set<string>> {
	const out = new Set<string>();
	for (const table of STORED_IN)
		for (const row of await db.selectFrom(table).select('sha256').execute()) out.add(row.sha256);
	return out;
}

/** @returns what was taken away */
export async function sweep(db: Db, dataDir: string, now = Date.now()): Promise<Swept> {
	const swept: Swept = { files: 0, bytes: 0, uploads: await dropUploadsWithoutJob(db, dataDir) };
	const root = join(dataDir, 'files');
	const wanted = await named(db);
	for (const folder of await readdir(root).catch(() => []))
		for (const name of await readdir(join(root, folder)).catch(() => [])) {
			const sha256 = name.replace(/\.gz$/, '');
			if (wanted.has(sha256) || isArriving(sha256)) continue;
			const path = join(root, folder, name);
			const seen = await stat(path).catch(() => null);
			if (!seen || now - Math.max(seen.mtimeMs, seen.ctimeMs) < GRACE_MS) continue;
			await rm(path, { force: true });
			swept.files++;
			swept.bytes += seen.size;
		}
	return swept;
}
