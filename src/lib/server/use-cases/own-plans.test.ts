import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { planFromOwn } from '$core/planning/own-plan.ts';
import { planFrom } from '$core/planning/templates.ts';
import { vehicleWith } from '$core/testing/hand-made.ts';
import { workshopSetting } from '$lib/server/jobs/workshop.ts';
import { openWorld, type World } from '$lib/server/testing/world.ts';
import { forgetPlan, keepPlan, MOST_PLANS } from './own-plans.ts';

let world: World;
beforeEach(async () => {
	world = await openWorld();
});
afterEach(() => world.close());

const vehicle = vehicleWith();
const free = { speedCapKmh: null };
const plan = planFrom('street-baseline', vehicle, free);
const names = async () => (await workshopSetting(world.db, 'drivePlans')).map((p) => p.name);

describe('drive plans of the workshop’s own', () => {
	it('are kept in the order of their names, replaced by their name, and taken away', async () => {
		await keepPlan(world.db, 'The hill', plan, vehicle, free);
		await keepPlan(world.db, ' After a service ', plan, vehicle, free);
		expect(await names()).toEqual(['After a service', 'The hill']);
		const shorter = { ...plan, manoeuvres: plan.manoeuvres!.slice(0, 2) };
		await keepPlan(world.db, 'The hill', shorter, vehicle, free);
		const [, kept] = await workshopSetting(world.db, 'drivePlans');
		expect(planFromOwn(kept!, vehicle, free).manoeuvres).toEqual(shorter.manoeuvres);
		await forgetPlan(world.db, 'The hill');
		expect(await names()).toEqual(['After a service']);
		await expect(forgetPlan(world.db, 'The hill')).rejects.toThrow('no plan is called "The hill"');
	});
	it('are refused without a name or a step, and nothing is kept then', async () => {
		await expect(keepPlan(world.db, ' ', plan, vehicle, free)).rejects.toThrow('give the plan a name');
		await expect(keepPlan(world.db, 'Nothing', { ...plan, manoeuvres: [] }, vehicle, free)).rejects.toThrow(
			'something to drive'
		);
		expect(await names()).toEqual([]);
	});
	it('are two when two are kept at the same moment, and never more than there is room for', async () => {
		await Promise.all(['One', 'Two'].map((n) => keepPlan(world.db, n, plan, vehicle, free)));
		expect(await names()).toEqual(['One', 'Two']);
		for (let n = 2; n < MOST_PLANS; n++) await keepPlan(world.db, `Plan ${n}`, plan, vehicle, free);
		await expect(keepPlan(world.db, 'One more', plan, vehicle, free)).rejects.toThrow('at most 60 plans');
		await keepPlan(world.db, 'One', plan, vehicle, free);
		expect(await names()).toHaveLength(MOST_PLANS);
	});
});
