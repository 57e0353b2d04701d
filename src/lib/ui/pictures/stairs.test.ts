import { describe, expect, it } from 'vitest';
import { bandsOf, type Stair, type Way } from './stairs';

const stair = (more: Partial<Stair> = {}): Stair => ({
	name: 'R0',
	kind: 'first driven',
	boostKpa: 140,
	timingDeg: 6,
	knockDeg: 0,
	mixture: { middlePct: -1, lowPct: -4, highPct: 2 },
	power: null,
	...more
});
const way = (more: Partial<Way> = {}): Way => ({
	stairs: [stair(), stair({ timingDeg: 8, power: { morePct: 3, sePct: 0.5 } })],
	next: { name: 'R2', kind: 'timing', to: 9 },
	goal: { boostKpa: null, timingCeilingDeg: 14 },
	limits: { knockDeg: 1, leanPct: 3 },
	...more
});
const KPA = { shown: (v: number) => v, unit: 'kPa', decimals: 0 };
const PSI = { shown: (v: number) => (v - 100) / 6.894757, unit: 'psi', decimals: 1 };
const bands = (w = way(), p = KPA) => bandsOf(w, p, 44);
const of = (id: string, list = bands()) => list.find((b) => b.id === id)!;

describe('the staircase of a ladder', () => {
	it('stacks its bands without a gap, boost first', () => {
		const list = bands();
		expect(list.map((b) => b.id)).toEqual(['boost', 'timing', 'knock', 'mixture', 'power']);
		list.slice(1).forEach((b, i) => expect(b.top).toBe(list[i]!.top + list[i]!.height));
		expect(list[0]!.top).toBe(44);
	});

	it('holds the values, the next step, the goal and the limits within its scales', () => {
		const timing = of('timing');
		for (const v of [6, 8, 9, 14]) {
			expect(v).toBeGreaterThan(timing.scale.from);
			expect(v).toBeLessThan(timing.scale.to);
		}
		expect(timing.goal).toEqual({ at: 14, label: 'ceiling 14' });
		expect(of('mixture').scale.to).toBeGreaterThan(3);
		expect(of('mixture').scale.from).toBeLessThan(-4);
		// More of it stands higher up.
		expect(timing.scale.at(8)).toBeLessThan(timing.scale.at(6));
	});

	it('stands knock on zero, with its limit in sight where nothing was pulled', () => {
		const knock = of('knock');
		expect(knock.scale.from).toBe(0);
		expect(knock.scale.to).toBeGreaterThan(1);
	});

	it('leaves out what nothing tells of, but never knock and mixture', () => {
		const bare = stair({ boostKpa: null, timingDeg: null, knockDeg: null, mixture: null });
		expect(bands(way({ stairs: [bare] })).map((b) => b.id)).toEqual(['knock', 'mixture']);
	});

	it('is in the reader’s units: a difference of 20 kPa fills it in psi too', () => {
		const boost = of('boost', bands(way({ goal: { boostKpa: 180, timingCeilingDeg: null } }), PSI));
		expect(boost.values[0]).toBeCloseTo(5.8, 1);
		expect(boost.goal!.label).toBe('goal 11.6');
		const flat = of('boost', bands(way(), PSI));
		expect(flat.scale.to - flat.scale.from).toBeCloseTo((20 / 6.894757) * 1.44, 6);
	});

	it('reaches below zero where a step cost power', () => {
		const cost = way({ stairs: [stair(), stair({ power: { morePct: -2, sePct: 0.5 } })] });
		expect(of('power', bands(cost)).scale.from).toBeLessThanOrEqual(-2);
	});
});
