/** What a job is to reach, in numbers, and how far its injectors and its pump go. */
import { InputError } from '$core/input-error.ts';
import { demandFromFigures } from '$core/fuelling/demand.ts';
import { parseGoal, type Goal } from '$core/fuelling/goal.ts';
import { planFuel, type FuelPlan } from '$core/fuelling/plan.ts';
import { profileOf } from '$core/limits/profile.ts';
import type { App } from './context.ts';
import type { Db } from './db/open.ts';
import type { JobView } from './jobs.ts';

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

/**
 * The plan from a log of the job, or from figures without one.
 * @throws InputError where a fact is missing, naming it
 */
export async function fuelPlanOf(
	app: Pick<App, 'pool' | 'dataDir' | 'db'>,
	job: Pick<JobView, 'id' | 'vehicle'>,
	goal: Goal,
	logId: number | null
): Promise<FuelPlan> {
	const { vehicle } = job;
	if (logId === null)
		return planFuel(
			demandFromFigures(vehicle, goal, profileOf(vehicle.limits)),
			goal,
			vehicle.injectors?.flowCcMin ?? null,
			vehicle.fuel?.ethanolPct ?? 0
		);
	const log = await app.db
		.selectFrom('logs')
		.select('state')
		.where('id', '=', logId)
		.where('job_id', '=', job.id)
		.where('taken_out', 'is', null)
		.executeTakeFirst();
	if (log?.state !== 'screened') throw new InputError('there is no such log in this job that is read', 'log');
	const answer = await app.pool.run('fuelPlan', { dataDir: app.dataDir, logId, goal });
	if (!answer.ok) throw new InputError(answer.message);
	return answer.plan;
}
