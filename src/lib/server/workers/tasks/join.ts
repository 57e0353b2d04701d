/** Whether the file of a second recorder is of the same drive as a log, and how their clocks go together. */
import { alignmentOf, joinLogs } from '$core/logfile/join.ts';
import { contextOf } from '$lib/server/logs/log-context.ts';
import { loadLog } from '$lib/server/logs/log-store.ts';
import { readRecorder } from './read-log.ts';
import { task, type Place } from './task.ts';

export const join = task(
	async (
		{ dataDir, logId, file }: Place & { logId: number; file: { sha256: string; bytes: number } },
		db
	) => {
		const other = await readRecorder(dataDir, await contextOf(db, logId), file);
		return { alignment: alignmentOf(joinLogs(await loadLog(db, logId), other), other) };
	}
);
