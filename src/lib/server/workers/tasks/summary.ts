/** What a log says in one page, and of power with what was typed beside it: as it is compared with another. */
import { typedPower } from '$core/evidence/typed-reading.ts';
import { logSummary } from '$core/performance/log-summary.ts';
import { powerSide } from '$core/performance/power-curves.ts';
import { typedReadingsOf } from '$lib/server/logs/typed-readings.ts';
import { preparedLog } from './stored.ts';
import { task, type Place } from './task.ts';

export const summary = task(async ({ logId }: Place & { logId: number }, db) => {
	const input = await preparedLog(db, logId);
	return {
		summary: logSummary(input),
		power: powerSide(input, typedPower(await typedReadingsOf(db, logId)))
	};
});
