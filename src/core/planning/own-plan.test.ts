import { describe, expect, it } from 'vitest';
import { parseVehicle } from '../vehicle/document.ts';
import { joinedPlans, ownPlanFrom, ownPlanSchema, planFromOwn } from './own-plan.ts';
import { planFrom, TEMPLATES } from './templates.ts';

const vehicle = (revLimitRpm: number, gears: number[]) =>
	parseVehicle({
		schema: 'tanto.vehicle/1',
		name: 'a car',
		engine: { cylinders: 4, aspiration: 'turbo', revLimitRpm },
		transmission: { gears, finalDrive: 3.9, tyreCircumferenceM: 1.95 }
	});
const mine = vehicle(7000, [3.4, 2.1, 1.45, 1.1, 0.86]);
const other = vehicle(5500, [3.1, 1.9, 1.3, 1]);
const free = { speedCapKmh: null };

describe('plans that a workshop keeps', () => {
	it.each(TEMPLATES.map((t) => t.id))(
		'keep every step of %s: on the same vehicle it is the same drive',
		(id) => {
			const plan = planFrom(id, mine, free);
			const back = planFromOwn(ownPlanSchema.parse(ownPlanFrom('kept', plan, mine, free)), mine, free);
			// How a drive is meant stays; which pressures or fuel it wants belongs to the template.
			expect(back.manoeuvres).toEqual(plan.manoeuvres);
			expect(back.preparations).toEqual(plan.preparations);
			expect(new Set(back.cautions)).toEqual(new Set(plan.cautions));
			expect(back.purpose).toBe(plan.purpose);
		}
	);
	it('fill gears and engine speeds in for the next vehicle', () => {
		const own = ownPlanFrom('kept', planFrom('full-throttle', mine, free), mine, free);
		expect(JSON.stringify(own)).not.toMatch(/\d{4}/);
		const there = planFromOwn(own, other, free);
		expect(there.manoeuvres).toEqual(planFrom('full-throttle', other, free).manoeuvres);
		expect(there.manoeuvres!.at(-1)!.rpm![1]).toBeLessThan(5500);
		expect(there.channels).toEqual(planFrom('full-throttle', other, free).channels);
	});
	it('keep words that were changed, and channels that were added', () => {
		const plan = planFrom('street-baseline', mine, free);
		plan.manoeuvres![2]!.how = 'Up the hill behind the workshop.';
		plan.channels!.push({ id: 'egt.cyl1' });
		const own = ownPlanFrom('the hill', plan, mine, free);
		const there = planFromOwn(own, other, free);
		expect(there.title).toBe('the hill');
		expect(there.manoeuvres![2]).toMatchObject({ kind: 'cruise', how: 'Up the hill behind the workshop.' });
		expect(there.channels!.map((c) => (typeof c === 'string' ? c : c.id))).toContain('egt.cyl1');
	});
	it('keep words around those of a pull, and refuse what is only right for this vehicle', () => {
		const withWords = (change: (how: string) => string) => {
			const plan = planFrom('full-throttle', mine, free);
			const pull = plan.manoeuvres!.at(-1)!;
			pull.how = change(pull.how!);
			return plan;
		};
		const kept = ownPlanFrom(
			'fast',
			withWords((how) => `Windows shut. ${how} Then idle home.`),
			mine,
			free
		);
		const there = planFromOwn(kept, other, free).manoeuvres!.at(-1)!.how!;
		expect(there).toMatch(/^Windows shut\. Full throttle .* 5200 rpm.* Then idle home\.$/);
		for (const [words, message] of [
			[() => 'Full throttle, as always.', /step 5 gears and engine speeds are filled in/],
			[(how: string) => `${how} Never over 6600 rpm.`, /step 5 name an engine speed/]
		] as const)
			expect(() => ownPlanFrom('fast', withWords(words), mine, free)).toThrow(message);
		const cruise = planFrom('street-baseline', mine, free);
		cruise.manoeuvres![2]!.how = 'Hold 2500 rpm.';
		expect(() => ownPlanFrom('slow', cruise, mine, free)).toThrow(/step 3 name an engine speed/);
		const early = planFrom('full-throttle', mine, free);
		early.manoeuvres!.at(-1)!.rpm = [2800, 5000];
		expect(() => ownPlanFrom('early', early, mine, free)).toThrow(/step 5 ends at 5000 rpm/);
		const capped = planFrom('full-throttle', mine, free);
		capped.conditions = { ...capped.conditions, mapMaxKpa: 180 };
		expect(() => ownPlanFrom('capped', capped, mine, free)).toThrow(/180 kPa.*can't be kept/);
	});
	it('keep when to lift, and how full the tank may be', () => {
		const plan = planFrom('knock-proof', mine, free);
		plan.aborts = [...plan.aborts!, 'Lift if the belt squeals.'];
		const there = planFromOwn(ownPlanFrom('proof', plan, mine, free), other, free);
		expect(there.aborts).toEqual(plan.aborts);
		expect(there.conditions).toMatchObject({ fuelLevelMaxPct: 33 });
	});
});

describe('two plans as one drive', () => {
	it('have each step once, in order, and the stricter of two conditions', () => {
		const first = planFrom('full-throttle', mine, { speedCapKmh: 160 });
		const second = planFrom('before-event', mine, { speedCapKmh: 120 });
		const both = joinedPlans(first, second);
		expect(both.title).toBe('Full-throttle pull, Before an event');
		const kinds = both.manoeuvres!.map((m) => m.kind);
		expect(kinds.slice(0, first.manoeuvres!.length)).toEqual(first.manoeuvres!.map((m) => m.kind));
		expect(kinds.filter((k) => k === 'light')).toHaveLength(1);
		expect(kinds.filter((k) => k === 'start')).toHaveLength(1);
		expect(both.conditions).toMatchObject({ speedCapKmh: 120, coolantMinC: 70 });
		expect(new Set(both.preparations).size).toBe(both.preparations!.length);
		expect(joinedPlans(first, first).manoeuvres).toEqual(first.manoeuvres);
		// Five stretches of cruise in one of them are five in both together.
		const baseline = planFrom('street-baseline', mine, free);
		const cruises = joinedPlans(first, baseline).manoeuvres!.filter((m) => m.kind === 'cruise');
		expect(cruises.map((m) => m.count)).toEqual([5]);
	});
});
