/** The next step towards the goal. */
import type { EarlierRung, ScreenedLog } from '$core/climbing/case.ts';
import { ladderOf } from '$core/climbing/ladder.ts';
import type { Goal } from '$core/fuelling/goal.ts';
import type { Plugs } from '$core/plugs/document.ts';
import { judgePlugs } from '$core/plugs/judge.ts';
import { screenPrepared } from '$core/screening/screen.ts';
import type { Db } from '$lib/server/db/open.ts';
import { preparedLog, revisionInVehicle } from './stored.ts';
import { task, type Place } from './task.ts';

export interface LadderTask extends Place {
	/** Made with the revision, the newest last. */
	logIds: number[];
	revisionId: number;
	/** The steps before it, the oldest first, each with logs made with it. */
	earlier: { revisionId: number; logIds: number[] }[];
	goal: Goal;
	/** Plugs of this step. */
	plugs: Plugs | null;
	banksSeen: string | null;
}

async function screened(db: Db, ids: readonly number[]): Promise<ScreenedLog[]> {
	const logs: ScreenedLog[] = [];
	for (const id of ids) {
		const input = await preparedLog(db, id);
		logs.push({ input, report: screenPrepared(input) });
	}
	return logs;
}

export const ladder = task(
	async ({ logIds, revisionId, earlier, goal, plugs, banksSeen }: LadderTask, db) => {
		const { calibration, vehicle } = await revisionInVehicle(db, revisionId);
		const before: EarlierRung[] = [];
		for (const r of earlier)
			before.push({
				calibration: (await revisionInVehicle(db, r.revisionId)).calibration,
				logs: await screened(db, r.logIds)
			});
		return {
			answer: ladderOf({
				banksSeen,
				calibration,
				logs: await screened(db, logIds),
				earlier: before,
				vehicle,
				goal,
				plugs: plugs && { document: plugs, answer: judgePlugs({ plugs, calibration, vehicle }) }
			})
		};
	}
);
