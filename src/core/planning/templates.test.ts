import { describe, expect, it } from 'vitest';
import { CHANNELS } from '../channels/canonical.ts';
import { parseVehicle } from '../vehicle/document.ts';
import { parseRequest, requestedChannels } from '../request.ts';
import { planFrom, TEMPLATES } from './templates.ts';

const v6 = parseVehicle({
	schema: 'tanto.vehicle/1',
	name: 'Orsa Kestrel',
	engine: { layout: 'v', cylinders: 6, aspiration: 'turbo', revLimitRpm: 7000, injection: 'direct' },
	transmission: { gears: [3.4, 2.1, 1.45, 1.1, 0.86, 0.7], finalDrive: 3.9, tyreCircumferenceM: 1.95 },
	fuel: { ethanolPct: 60 }
});
const bare = parseVehicle({
	schema: 'tanto.vehicle/1',
	name: 'bare',
	engine: { cylinders: 4, aspiration: 'na', revLimitRpm: 6000 }
});
const plan = (id: (typeof TEMPLATES)[number]['id'], v = v6, speedCapKmh: number | null = null) =>
	planFrom(id, v, { speedCapKmh });

describe('drive plans', () => {
	it('every template is a valid request, for a vehicle that is known well and one that is hardly known', () => {
		for (const { id } of TEMPLATES)
			for (const v of [v6, bare]) {
				const p = plan(id, v);
				expect(parseRequest(JSON.parse(JSON.stringify(p))), id).toEqual(p);
				for (const c of requestedChannels(p)) expect(CHANNELS.has(c), `${id}: ${c}`).toBe(true);
				expect(
					p.manoeuvres!.every((m) => m.how && m.doneWhen),
					id
				).toBe(true);
			}
	});
	it('asks for both banks, rail pressure and boost where the engine has them, and not elsewhere', () => {
		const much = requestedChannels(plan('full-throttle'));
		expect(much).toEqual(expect.arrayContaining(['lambda.b2', 'railPressure', 'boostTarget', 'ethanol']));
		const little = requestedChannels(plan('full-throttle', bare));
		expect(little).not.toContain('lambda.b2');
		expect(little).not.toContain('boostTarget');
	});
	it('a full-throttle plan goes gently first: idle, cruise, light, medium, then full throttle (common practice)', () => {
		expect(plan('full-throttle').manoeuvres!.map((m) => m.kind)).toEqual([
			'idle',
			'cruise',
			'light',
			'medium',
			'pull'
		]);
	});
	it('a pull names its gears and engine speeds, and a cap lowers the top and is said', () => {
		const free = plan('full-throttle').manoeuvres!.at(-1)!;
		expect(free.gears).toEqual([2, 3, 4]);
		expect(free.rpm).toEqual([2800, 6600]);
		const capped = plan('full-throttle', v6, 120).manoeuvres!.at(-1)!;
		expect(capped.gears).toEqual([2, 3]);
		expect(capped.rpm![1]).toBeLessThan(6600);
		expect(capped.how).toContain('Never faster than 120 km/h');
	});
	it('first start and problem capture ask for no full throttle', () => {
		for (const id of ['first-start', 'problem', 'street-baseline', 'bank-swap'] as const)
			expect(
				plan(id).manoeuvres!.some((m) => m.kind === 'pull'),
				id
			).toBe(false);
	});
	it('the knock proof wants two pulls in one gear and a tank at a third at most', () => {
		const p = plan('knock-proof');
		expect(p.conditions!.fuelLevelMaxPct).toBe(33);
		expect(p.manoeuvres).toHaveLength(1);
		expect(p.manoeuvres![0]).toMatchObject({ count: 2 });
		expect(p.manoeuvres![0]!.gears).toHaveLength(1);
	});
	it('wherever something is driven the place comes first among the cautions', () => {
		expect(plan('full-throttle').cautions![0]).toContain('closed course');
		expect(plan('first-start').cautions!.join(' ')).toContain('fire extinguisher');
	});
});
