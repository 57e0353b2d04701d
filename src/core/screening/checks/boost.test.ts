import { describe, expect, it } from 'vitest';
import {
	findingOf,
	handMade,
	outcomeOf,
	pulled,
	pullShapes,
	reportOf,
	vehicleWith,
	type Shape,
	at,
	inPull
} from '../../testing/hand-made.ts';
import { checkCases } from '../../testing/check-cases.ts';

const car = vehicleWith();
/** A pull to 170 kPa; what happens at its end is the test's. The pedal is lifted at 16 s. */
const shapes = (more: Record<string, Shape>): Record<string, Shape> => ({
	...pullShapes(),
	pedal: pulled(100, 10),
	...more
});
const report = (more: Record<string, Shape>, hz = 20) => reportOf(handMade(40, hz, shapes(more)), car);

describe('boost.over at a lift', () => {
	/** The set point falls with the pedal, the pressure within a second. */
	const falling: Record<string, Shape> = {
		boostTarget: (t) => (t >= 10 && t < 15.9 ? 170 : 100),
		map: (t) => (t < 10 ? 45 : t < 16 ? 170 : Math.max(45, 170 - (t - 16) * 110))
	};
	it.each([5, 10, 20, 40])('a set point that falls away says nothing, at %d Hz', (hz) => {
		expect(findingOf(report(falling, hz), 'boost.over')).toBeUndefined();
	});
	it('a lift to half a pedal, still loaded, says nothing for a second either', () => {
		const half = report({
			pedal: (t) => (t < 10 ? 10 : t < 13 ? 100 : t < 16 ? 50 : 10),
			boostTarget: (t) => (t >= 10 && t < 13 ? 170 : t < 16 ? 130 : 100),
			map: (t) => (t < 10 ? 45 : t < 13 ? 170 : t < 16 ? Math.max(130, 170 - (t - 13) * 50) : 45)
		});
		expect(findingOf(half, 'boost.over')).toBeUndefined();
	});
	it('too much while the pedal is held is found as ever', () => {
		const over = (kpa: number) =>
			findingOf(report({ boostTarget: pulled(170 - kpa, 100) }), 'boost.over')?.severity;
		expect([over(6), over(10), over(16), over(27)]).toEqual([undefined, 'watch', 'fix', 'stop']);
	});
	it('a short stab on a held pedal is enough for stop', () => {
		const stab = report({
			boostTarget: pulled(170, 100),
			map: (t) => (t > 13 && t < 13.2 ? 200 : pulled(170, 45)(t))
		});
		expect(findingOf(stab, 'boost.over')?.severity).toBe('stop');
	});
});

describe('boost.under', () => {
	const short: Record<string, Shape> = {
		boostTarget: pulled(170, 100),
		wastegateDuty: pulled(98, 0),
		// Full at 12 s, then falling by 8 kPa a second.
		map: (t) => (t < 10 || t >= 16 ? 45 : t < 12 ? 165 : 165 - (t - 12) * 8)
	};
	it('with the gate closed and pressure fading towards the top is a charger out of breath: said, no leak', () => {
		const f = findingOf(report(short), 'boost.under')!;
		expect(f.severity).toBe('note');
		expect(f.title).toContain('out of breath');
		expect(f.causes.join(' ')).not.toContain('leak');
	});
	it('with the gate not at its end it is short', () => {
		expect(findingOf(report({ ...short, wastegateDuty: pulled(60, 0) }), 'boost.under')?.severity).toBe(
			'fix'
		);
	});
	it('that falls at once is a hose, whatever the gate does', () => {
		const hose = report({ ...short, map: (t) => (t < 10 || t >= 16 ? 45 : t < 13 ? 165 : 130) });
		expect(findingOf(hose, 'boost.under')?.severity).toBe('fix');
	});
	it('that never got there is short', () => {
		expect(findingOf(report({ ...short, map: pulled(140, 45) }), 'boost.under')?.severity).toBe('fix');
	});
	it('that never got there is short by what is missing once it has climbed, not on its way there', () => {
		const leak = report({
			...short,
			boostTarget: pulled(200, 100),
			map: (t) => (inPull(t) ? Math.min(169, 100 + (t - 10) * 25) : 45)
		});
		expect(Math.abs(findingOf(leak, 'boost.under')!.value!)).toBeLessThan(34);
		expect(Math.abs(findingOf(leak, 'boost.under')!.value!)).toBeGreaterThan(30);
	});
	it('that climbs to its end is judged by its end', () => {
		const slow = report({
			...short,
			boostTarget: pulled(200, 100),
			map: (t) => (inPull(t) ? 100 + (t - 10) * 10 : 45)
		});
		expect(findingOf(slow, 'boost.under')?.severity).toBe('fix');
	});
	it('is not made without a held pedal', () => {
		expect(
			outcomeOf(report({ boostTarget: pulled(170, 100), pedal: () => 10, tps: () => 18 }), 'boost.under')
				.outcome
		).toBe('not-checked');
	});
});

checkCases('boost.under', [
	{ what: 'no set point', shapes: {}, is: 'not-checked' },
	{ what: '9 kPa short', shapes: { boostTarget: at(179) }, is: 'pass' },
	{ what: '15 kPa short', shapes: { boostTarget: at(185) }, is: 'watch' },
	{
		what: '12 psi where 16 to 17 is set: 31 kPa (common practice)',
		shapes: { map: pulled(100 + 12 * 6.894757, 45), boostTarget: at(100 + 16.5 * 6.894757) },
		is: 'fix'
	},
	{
		what: 'still spooling',
		shapes: { map: (t) => (inPull(t) ? Math.min(170, 110 + (t - 10) * 40) : 45), boostTarget: at(172) },
		is: 'pass'
	},
	{ what: 'naturally aspirated', shapes: {}, vehicle: vehicleWith({ aspiration: 'na' }), is: 'pass' }
]);

checkCases('boost.over', [
	{ what: '6 kPa over', shapes: { boostTarget: at(164) }, is: 'pass' },
	{ what: '8 kPa over', shapes: { boostTarget: at(162) }, is: 'watch' },
	{ what: '15 kPa over', shapes: { boostTarget: at(155) }, is: 'fix' },
	{
		what: '26 kPa over for 0.15 s',
		shapes: { boostTarget: at(168), map: (t) => (t > 13 && t < 13.16 ? 194.5 : inPull(t) ? 170 : 45) },
		is: 'stop'
	},
	{
		what: '20 kPa over for 0.1 s',
		shapes: { boostTarget: at(168), map: (t) => (t > 13 && t < 13.1 ? 188 : inPull(t) ? 170 : 45) },
		is: 'pass'
	}
]);
