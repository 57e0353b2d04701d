/** What a healthy log measures of its vehicle: warm idle, its boost. */
import { measuredBaselines } from '$core/screening/baselines.ts';
import { preparedLog } from './stored.ts';
import { task, type Place } from './task.ts';

export const baselines = task(async ({ logId }: Place & { logId: number }, db) => ({
	baselines: measuredBaselines(await preparedLog(db, logId))
}));
