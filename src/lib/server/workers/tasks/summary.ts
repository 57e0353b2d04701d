/** What a log says in one page: pulls, air, power, as it is compared with another. */
import { logSummary } from '$core/performance/log-summary.ts';
import { preparedLog } from './stored.ts';
import { task, type Place } from './task.ts';

export const summary = task(async ({ logId }: Place & { logId: number }, db) => ({
	summary: logSummary(await preparedLog(db, logId))
}));
