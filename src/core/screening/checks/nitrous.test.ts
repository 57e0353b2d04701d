/** `nitrous.timing` on hand-made logs: clear-cut, just under, just over, missing data, look-alikes; limits are the defaults of the profile. */
import { checkCases } from '../../testing/check-cases.ts';
import {
	pulled,
	vehicleWith,
	findingOf,
	handMade,
	outcomeOf,
	pullShapes,
	reportOf,
	type Shape
} from '../../testing/hand-made.ts';
import { describe, expect, it } from 'vitest';

/** In the pull: half duty first, then all of it. */
const half: Shape = (t) => (pulled(1, 0)(t) ? (t < 14 ? 50 : 100) : 0);

checkCases('nitrous.timing', [
	{ what: 'no nitrous', shapes: {}, is: 'pass' },
	{ what: 'shot unknown', shapes: { nitrousDuty: pulled(100, 0) }, is: 'not-checked' },
	{
		what: '3.9° for 100 hp',
		shapes: { nitrousDuty: pulled(100, 0), sparkBase: pulled(20, 30), spark: pulled(16.1, 30) },
		vehicle: vehicleWith({}, { nitrous: { shotHp: 100, kind: 'dry' } }),
		is: 'fix'
	},
	{
		what: '9 on 200 for safety (common practice)',
		shapes: { nitrousDuty: pulled(100, 0), sparkBase: pulled(20, 30), spark: pulled(11, 30) },
		vehicle: vehicleWith({}, { nitrous: { shotHp: 200, kind: 'dry' } }),
		is: 'pass'
	},
	{
		what: '4.5° at half of 200 hp and 9° at all of it: each duty has its own need',
		shapes: {
			nitrousDuty: half,
			sparkBase: pulled(20, 30),
			spark: (t) => (half(t) > 75 ? 11 : half(t) > 0 ? 15.5 : 30)
		},
		vehicle: vehicleWith({}, { nitrous: { shotHp: 200, kind: 'dry' } }),
		is: 'pass'
	},
	{
		what: '1° at half of it and 9° at all of it: enough at the top hides nothing',
		shapes: {
			nitrousDuty: half,
			sparkBase: pulled(20, 30),
			spark: (t) => (half(t) > 75 ? 11 : half(t) > 0 ? 19 : 30)
		},
		vehicle: vehicleWith({}, { nitrous: { shotHp: 200, kind: 'dry' } }),
		is: 'fix'
	}
]);

describe('nitrous.fuel', () => {
	const GS_PER_LBH = 0.1259979;
	const shapes = (flow: number, lambda = 0.8): Record<string, Shape> => ({
		...pullShapes(),
		nitrousDuty: pulled(100, 0),
		fuelFlow: pulled(flow * GS_PER_LBH, 2),
		fuelFlowBase: pulled(215 * GS_PER_LBH, 2),
		nitrousFuel: pulled(70 * GS_PER_LBH, 0),
		'lambda.b1': pulled(lambda, 1)
	});
	it('215 + 70 = 285 against 302 lb/h: the adder is 17 short, so 87 (common practice)', () => {
		const report = reportOf(handMade(30, 20, shapes(302)), vehicleWith({}, { nitrous: { shotHp: 100 } }));
		const f = findingOf(report, 'nitrous.fuel')!;
		expect(f.severity).toBe('watch');
		expect(f.value).toBeCloseTo((100 * 17) / 302, 1);
		expect(f.summary).toContain(`${(87 * GS_PER_LBH).toFixed(1)} g/s`);
	});
	it('is not judged while the mixture is off its target', () => {
		const report = reportOf(
			handMade(30, 20, shapes(302, 0.83)),
			vehicleWith({}, { nitrous: { shotHp: 100 } })
		);
		expect(outcomeOf(report, 'nitrous.fuel')).toMatchObject({ outcome: 'not-checked' });
		expect(outcomeOf(report, 'nitrous.fuel').reason).toContain('never met its target');
	});
});
