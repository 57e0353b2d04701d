/** Drive plans of the workshop's own: kept under a name, taken away again. */
import { ownPlanFrom, ownPlanSchema } from '$core/planning/own-plan.ts';
import type { PlanOptions } from '$core/planning/templates.ts';
import { InputError } from '$core/input-error.ts';
import { parseWith } from '$core/parse.ts';
import type { LogRequest } from '$core/request.ts';
import type { Vehicle } from '$core/vehicle/document.ts';
import type { Db } from '$lib/server/db/open.ts';
import { saveWorkshopSetting, workshopSetting } from '$lib/server/jobs/workshop.ts';

export const MOST_PLANS = 60;

/**
 * Keeps a plan for other vehicles; one of the same name is replaced.
 * @throws InputError without a name or a step, and where words name an engine speed of this vehicle
 */
export async function keepPlan(
	db: Db,
	name: string,
	plan: LogRequest,
	vehicle: Vehicle,
	options: PlanOptions
): Promise<string> {
	const own = parseWith(ownPlanSchema, ownPlanFrom(name, plan, vehicle, options));
	await db.transaction().execute(async (trx) => {
		const others = (await workshopSetting(trx, 'drivePlans')).filter((p) => p.name !== own.name);
		if (others.length >= MOST_PLANS)
			throw new InputError(`a workshop keeps at most ${MOST_PLANS} plans; remove one first`);
		await saveWorkshopSetting(
			trx,
			'drivePlans',
			[...others, own].sort((a, b) => a.name.localeCompare(b.name))
		);
	});
	return own.name;
}

/** @throws InputError where none is called that */
export async function forgetPlan(db: Db, name: string): Promise<void> {
	await db.transaction().execute(async (trx) => {
		const plans = await workshopSetting(trx, 'drivePlans');
		if (!plans.some((p) => p.name === name)) throw new InputError(`no plan is called "${name}"`);
		await saveWorkshopSetting(
			trx,
			'drivePlans',
			plans.filter((p) => p.name !== name)
		);
	});
}
