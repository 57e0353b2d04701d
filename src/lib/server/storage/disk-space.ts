/** Room on the disk: a file is refused before it begins, not when the disk is full, and work waits until there is some again. */
import { statfs } from 'node:fs/promises';
import { InputError } from '$core/input-error.ts';

/** What has to stay free whatever comes: the database's own log, an export, a copy. */
const ALWAYS_FREE = 64 << 20;
/** A log takes its own size as it comes, less of that compressed, and its columns. */
const TIMES = 3;

/** Room that uploads on their way will take; one that stands still this long gives its room back. */
const IDLE_MS = 3_600_000;
const reservations = new Map<string, { bytes: number; until: number }>();

/** Room that is kept for files on their way under names that begin with `prefix`, bytes. */
export function reservedUnder(prefix: string, now = Date.now()): number {
	let sum = 0;
	for (const [id, r] of reservations) {
		if (r.until < now) reservations.delete(id);
		else if (id.startsWith(prefix)) sum += r.bytes;
	}
	return sum;
}

/** Whether room for this file on its way is still kept. */
export const isReserved = (id: string, now = Date.now()): boolean =>
	(reservations.get(id)?.until ?? -Infinity) >= now;

/** Keeps room for a file of `bytes` of which `arrived` are on the disk already. @param id begins with the data folder */
export function reserve(id: string, bytes: number, arrived = 0, now = Date.now()): void {
	reservations.set(id, { bytes: Math.max(0, TIMES * bytes - arrived), until: now + IDLE_MS });
}

export const release = (id: string): void => void reservations.delete(id);

export async function freeBytes(dataDir: string): Promise<number> {
	const { bavail, bsize } = await statfs(dataDir);
	return bavail * bsize;
}

/** Whether a file of this size can be taken in and worked with, beside all that is on its way. */
export async function hasRoom(dataDir: string, bytes: number): Promise<boolean> {
	return (await freeBytes(dataDir)) - reservedUnder(`${dataDir} `) >= ALWAYS_FREE + TIMES * bytes;
}

/** @throws InputError when there isn't enough room for a file of this size */
export async function refuseWithoutRoom(dataDir: string, bytes: number): Promise<void> {
	if (!(await hasRoom(dataDir, bytes)))
		throw new InputError(
			'there is no room left on the server for this file. Nothing was stored; tell your tuner, and send it again later'
		);
}

/**
 * One customer's files on their way together keep at most a quarter of the disk from everybody else; a single one is always taken where it fits.
 * @param prefix of the names of theirs
 */
export async function isOverShare(dataDir: string, prefix: string, bytes: number): Promise<boolean> {
	const theirs = reservedUnder(prefix);
	return theirs > 0 && theirs + TIMES * bytes > (await freeBytes(dataDir)) / 4;
}

export const NO_ROOM =
	'there is no room left on the disk of the server. Nothing was stored: do it again when there is room';

function hasCode(e: unknown, code: RegExp): boolean {
	for (let at: unknown = e; at instanceof Error; at = at.cause)
		if ('code' in at && code.test(String(at.code))) return true;
	return false;
}

/** Whether something failed because the disk was full, however deep in the causes that is told. */
export const isFull = (e: unknown): boolean => hasCode(e, /^(SQLITE_FULL|ENOSPC)$/);

/** Whether something failed because another process kept the database locked for longer than is waited. */
export const isLocked = (e: unknown): boolean => hasCode(e, /^SQLITE_(BUSY|LOCKED)/);
