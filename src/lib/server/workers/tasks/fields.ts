/** The error of a log as a field over the tables of its revision. */
import { logFields } from '$core/correction/grid-field.ts';
import { preparedLog } from './stored.ts';
import { task, type Place } from './task.ts';

export const fields = task(async ({ logId }: Place & { logId: number }, db) => ({
	fields: logFields(await preparedLog(db, logId))
}));
