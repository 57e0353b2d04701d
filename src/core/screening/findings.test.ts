/** What findings say and weigh beyond passing or not: figures, words, which of several sources, what one fault makes of others. */
import { describe, expect, it } from 'vitest';
import {
	air,
	findingOf,
	handMade,
	inPull,
	perCylinder,
	pulled,
	pullShapes,
	reportOf,
	v6,
	vehicleWith,
	type Shape
} from '../testing/hand-made.ts';

describe('what the findings say', () => {
	const said = (code: string, shapes: Record<string, Shape>, vehicle = vehicleWith()) =>
		findingOf(reportOf(handMade(60, 20, { ...pullShapes(), ...shapes }), vehicle), code)!;
	it('air.model gives the factor that closes it: × 410/510 = −19.6 %, not −24 % (common practice)', () => {
		const f = said('air.model', { maf: air(410), airflowModel: air(410, 510 / 410) });
		expect(f.value).toBeCloseTo(24.39, 1);
		expect(f.summary).toContain('−19.6 %');
	});
	it('throttle.closing names value and engine speed', () => {
		const f = said('throttle.closing', {
			pedal: pulled(100, 18),
			tps: (t) => (t > 13.6 && t < 14.2 ? 79 : inPull(t) ? 100 : 18)
		});
		expect(f.title).toMatch(/79 % at 49\d\d rpm/);
	});
	it('misfire names the cylinder, and the same stretch is not lean', () => {
		const report = reportOf(
			handMade(60, 20, {
				...pullShapes(),
				'misfire.cyl3': (t) => (t < 12 ? 0 : t < 13 ? 2 : 4),
				'lambda.b1': (t) => (t > 12 && t < 12.5 ? 1.1 : inPull(t) ? 0.8 : 1)
			}),
			vehicleWith()
		);
		expect(findingOf(report, 'misfire')!.cylinder).toBe(3);
		expect(findingOf(report, 'fuel.lean')).toBeUndefined();
	});
	it('sinking fuel pressure carries the lean mixture that it causes', () => {
		const report = reportOf(
			handMade(60, 20, {
				...pullShapes(),
				fuelPressure: (t) => (inPull(t) ? 240 + 70 : 245),
				'lambda.b1': pulled(0.8 * 1.09, 1)
			}),
			vehicleWith({}, { injectors: { pressureReference: 'manifold', basePressureKpa: 300 } })
		);
		expect(findingOf(report, 'supply.pressure')!.severity).toBe('stop');
		expect(findingOf(report, 'fuel.lean')!.severity).toBe('note');
	});
	it('one cylinder that knocks is not also knock of the map, unless it is dangerous anyway', () => {
		const shapes = (deg: number) => ({
			...pullShapes(),
			knockRetard: (t: number) => (t > 13 && t < 14 ? deg : 0),
			...perCylinder('knockRetard', (c) => (t) => (c === 2 && t > 13 && t < 14 ? deg : 0))
		});
		const mild = reportOf(handMade(60, 20, shapes(4)), v6);
		const serious = mild.findings.filter((f) => f.code.includes('knock') && f.severity !== 'note');
		expect(serious.map((f) => f.code)).toEqual(['cyl.knock']);
		// It steps back, it isn't lost: its line says found, and so does the list.
		expect(mild.findings.filter((f) => f.code.startsWith('knock.')).map((f) => f.severity)).toEqual(['note']);
		const hard = reportOf(handMade(60, 20, shapes(7)), v6);
		expect(hard.findings.some((f) => f.code.startsWith('knock.') && f.severity === 'stop')).toBe(true);
	});
});
