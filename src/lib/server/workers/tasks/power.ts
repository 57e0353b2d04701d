/** Power and torque of two logs, before and after: typed, logged or from the road. */
import { typedPower } from '$core/evidence/typed-reading.ts';
import { powerOf, type PowerInput } from '$core/performance/power-curves.ts';
import type { Db } from '../../db/open.ts';
import { typedReadingsOf } from '../../typed.ts';
import { preparedLog } from './stored.ts';
import { task, type Place } from './task.ts';

const side = async (db: Db, logId: number): Promise<PowerInput> => ({
	input: await preparedLog(db, logId),
	readings: typedPower(await typedReadingsOf(db, logId))
});

export const power = task(async ({ before, after }: Place & { before: number; after: number }, db) => ({
	power: powerOf(await side(db, after), await side(db, before))
}));
