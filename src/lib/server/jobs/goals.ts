/** What a job is to reach, in numbers, and how far its injectors and its pump go. */
import { parseGoal, type Goal } from '$core/fuelling/goal.ts';
import type { Db } from '$lib/server/db/open.ts';

const NONE: Goal = { schema: 'tanto.goal/1' };

export async function goalOf(db: Db, jobId: number): Promise<Goal> {
	const row = await db.selectFrom('jobs').select('goal').where('id', '=', jobId).executeTakeFirst();
	return row?.goal ? parseGoal(JSON.parse(row.goal)) : NONE;
}

export async function saveGoal(db: Db, jobId: number, goal: Goal): Promise<void> {
	await db
		.updateTable('jobs')
		.set({ goal: JSON.stringify(goal) })
		.where('id', '=', jobId)
		.execute();
}
