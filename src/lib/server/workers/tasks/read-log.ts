/** Reads a received log, screens it and stores what came of it, whole or not at all. */
import { briefOf } from '$core/screening/brief.ts';
import { prepare } from '$core/evidence/prepare.ts';
import { LayoutError, type LayoutSeen } from '$core/logfile/layout-error.ts';
import { joinLogs } from '$core/logfile/join.ts';
import { readLogAsync } from '$core/logfile/read.ts';
import { correctionCells } from '$core/evidence/cells/correction-map.ts';
import { cylinderLevels } from '$core/screening/cylinder-levels.ts';
import { levelsOf } from '$core/screening/levels.ts';
import { screenPrepared } from '$core/screening/screen.ts';
import { CHECKS_VERSION } from '$lib/server/db/checks-version.ts';
import { loadLog } from '$lib/server/logs/log-store.ts';
import { pullCurves } from '$core/evidence/segments/pull-curves.ts';
import { contextOf, type LogContext } from '$lib/server/logs/log-context.ts';
import { dropRuns, storeColumns } from '$lib/server/logs/store-columns.ts';
import { isFull, isLocked } from '$lib/server/storage/disk-space.ts';
import { forgetScreenings } from '$lib/server/logs/screenings.ts';
import { readContextOf } from '$core/vehicle/facts.ts';
import { openFile } from '$lib/server/storage/files.ts';
import type { Log } from '$core/logfile/log.ts';
import type { LogQuestion } from '$lib/server/logs/logs.ts';
import { database, messageOf, type Place } from './task.ts';

export interface LogTask extends Place {
	logId: number;
}

export type LogAnswer =
	| { ok: true }
	/** `seen`: what a person needs to say how the file is laid out, where that is what failed. */
	| { ok: false; waits?: undefined; message: string; seen: LayoutSeen | null }
	/** Nobody’s fault: the disk was full, or the database locked for long. */
	| { ok: false; waits: true };

const CHUNK = 1 << 20;

/** Columns that two units fit, for a person to decide. */
function questionsOf(log: Log): LogQuestion[] {
	return log.channels.flatMap((c) =>
		c.undecided ? [{ ...c.undecided, channel: c.id, raw: c.raw, rawUnit: c.rawUnit, unit: c.unit }] : []
	);
}

/** Screens a log, and says what of the screening is stored. */
function screened(log: Log, context: LogContext) {
	const input = prepare(log, context);
	const report = screenPrepared(input);
	return {
		log_id: context.log.id,
		version: CHECKS_VERSION,
		profile: JSON.stringify(input.profile),
		report: JSON.stringify(report),
		cells: JSON.stringify(correctionCells(input)),
		pulls: JSON.stringify(pullCurves(input)),
		unmapped: JSON.stringify(log.unmapped.filter((u) => !u.private)),
		brief: JSON.stringify({
			...briefOf(report),
			levels: levelsOf(input),
			cylinders: cylinderLevels(input)
		}),
		created_at: new Date().toISOString()
	};
}

/** Vehicle, revisions, meanings of columns: whether a screening used what stands now. */
const sameContext = (a: LogContext, b: LogContext): boolean => keyOf(a) === keyOf(b);
const keyOf = (c: LogContext): string => JSON.stringify({ ...c, remembered: [...c.remembered] });

/** Saved while a log was read: it is read again. More often than this nobody saves in the time of a reading. */
const MOST_TRIES = 20;

export async function readLog(task: LogTask): Promise<LogAnswer> {
	const { dataDir, logId } = task;
	const db = database(dataDir);
	try {
		for (let n = 0; n < MOST_TRIES; n++) if (await readAndScreen(task)) break;
		await dropRuns(db, logId);
		await forgetScreenings(db, logId);
		return { ok: true };
	} catch (e) {
		if (isFull(e) || isLocked(e)) return { ok: false, waits: true };
		return { ok: false, message: messageOf(e), seen: e instanceof LayoutError ? e.seen : null };
	}
}

/** Screens a log anew, from its stored columns: the file is not read again. */
export async function screenAgain({ dataDir, logId }: LogTask): Promise<LogAnswer> {
	const db = database(dataDir);
	try {
		for (let n = 0; n < MOST_TRIES; n++) {
			const context = await contextOf(db, logId);
			const screening = screened(await loadLog(db, logId), context);
			const stored = await db.transaction().execute(async (trx) => {
				if (!sameContext(context, await contextOf(trx, logId))) return false;
				await trx.insertInto('screenings').values(screening).execute();
				return true;
			});
			if (stored) break;
		}
		await forgetScreenings(db, logId);
		return { ok: true };
	} catch (e) {
		if (isFull(e) || isLocked(e)) return { ok: false, waits: true };
		return { ok: false, message: messageOf(e), seen: null };
	}
}

/** What no longer joins (a column was said to be something else) is told, and never hides the log itself. */
async function withRecorder(
	log: Log,
	dataDir: string,
	context: LogContext,
	file: { sha256: string; bytes: number }
): Promise<Log> {
	try {
		return joinLogs(log, await readRecorder(dataDir, context, file)).log;
	} catch (e) {
		return { ...log, notes: [...log.notes, `A second recorder isn’t in it any more: ${messageOf(e)}.`] };
	}
}

/** The file of a second recorder, read as any log is: what this customer's columns are called holds there too. */
export const readRecorder = (
	dataDir: string,
	context: Pick<LogContext, 'vehicle' | 'remembered'>,
	file: { sha256: string; bytes: number }
): Promise<Log> =>
	readLogAsync(openFile(dataDir, file.sha256, CHUNK) as AsyncIterable<Uint8Array>, {
		...readContextOf(context.vehicle),
		remembered: context.remembered,
		bytes: file.bytes
	});

/** @returns whether what it was screened with still stood at the end; nothing is stored where it didn't */
async function readAndScreen({ dataDir, logId }: LogTask): Promise<boolean> {
	const db = database(dataDir);
	const context = await contextOf(db, logId);
	const total = context.log.bytes;
	let read = 0;
	let told = 0;
	async function* chunks() {
		for await (const chunk of openFile(dataDir, context.log.sha256, CHUNK)) {
			const bytes = chunk as Uint8Array;
			read += bytes.length;
			const percent = Math.floor((100 * read) / total);
			if (percent >= told + 10) {
				told = percent;
				await db.updateTable('logs').set({ progress: percent }).where('id', '=', logId).execute();
			}
			yield bytes;
		}
	}
	let log = await readLogAsync(chunks(), {
		...readContextOf(context.vehicle),
		remembered: context.remembered,
		bytes: context.log.bytes,
		hint: context.hint,
		layouts: context.layouts
	});
	for (const r of context.recorders) log = await withRecorder(log, dataDir, context, r);
	const screening = screened(log, context);
	const run = await storeColumns(db, logId, log);
	return db.transaction().execute(async (trx) => {
		if (!sameContext(context, await contextOf(trx, logId))) return false;
		await trx.insertInto('screenings').values(screening).execute();
		await trx
			.updateTable('logs')
			.set({
				state: 'screened',
				run,
				progress: 100,
				message: null,
				seen: null,
				rows: log.rows,
				duration_s: log.durationS,
				time_faults: JSON.stringify(log.timeFaults),
				questions: JSON.stringify(questionsOf(log))
			})
			.where('id', '=', logId)
			.execute();
		return true;
	});
}
