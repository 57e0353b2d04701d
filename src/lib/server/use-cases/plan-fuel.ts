/** Injectors and pump for a goal, from a log of the job or from figures. */
import { demandFromFigures } from '$core/fuelling/demand.ts';
import type { Goal } from '$core/fuelling/goal.ts';
import { planFuel, type FuelPlan } from '$core/fuelling/plan.ts';
import { InputError } from '$core/input-error.ts';
import { profileOf } from '$core/limits/profile.ts';
import type { App } from '$lib/server/context.ts';
import type { JobView } from '$lib/server/jobs/jobs.ts';

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
