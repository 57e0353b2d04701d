/** How far injectors and pump go, by a log. */
import { demandFromLog } from '$core/fuelling/demand.ts';
import type { Goal } from '$core/fuelling/goal.ts';
import { planFuel } from '$core/fuelling/plan.ts';
import { preparedLog } from './stored.ts';
import { task, type Place } from './task.ts';

export const fuelPlan = task(async ({ logId, goal }: Place & { logId: number; goal: Goal }, db) => {
	const input = await preparedLog(db, logId);
	const { injectors, fuel } = input.vehicle;
	const demand = demandFromLog(input, goal);
	return { plan: planFuel(demand, goal, injectors?.flowCcMin ?? null, fuel?.ethanolPct ?? 0) };
});
