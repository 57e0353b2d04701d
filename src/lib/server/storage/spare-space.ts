/** A few megabytes that are kept for the day on which the disk is full: whoever wants to make room has to be able to sign in. */
import { rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { hasRoom, isFull } from './disk-space.ts';

const SPARE_BYTES = 4 << 20;
const pathOf = (dataDir: string) => join(dataDir, 'spare');

/** Lays the spare room by, where there is room for it. */
export async function keepSpare(dataDir: string): Promise<void> {
	const there = statSync(pathOf(dataDir), { throwIfNoEntry: false })?.size === SPARE_BYTES;
	if (!there && (await hasRoom(dataDir, SPARE_BYTES)))
		writeFileSync(pathOf(dataDir), Buffer.alloc(SPARE_BYTES, 1));
}

/** Does a small piece of work that has to be possible; on a full disk once more with the spare room. It is laid by again when there is room. */
export async function withSpare<T>(dataDir: string, work: () => Promise<T>): Promise<T> {
	try {
		return await work();
	} catch (e) {
		if (!isFull(e)) throw e;
		rmSync(pathOf(dataDir), { force: true });
		return work();
	}
}
