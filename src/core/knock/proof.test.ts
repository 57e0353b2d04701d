import { describe, expect, it } from 'vitest';
import { prepare } from '../screening/screen.ts';
import { handMade, pullShapes, vehicleWith, type Shape } from '../testing/hand-made.ts';
import { proofMeasure, proofVerdict, type ProofMeasure } from './proof.ts';

const region = { rpm: [3000, 5000] as [number, number], mapKpa: [150, 190] as [number, number] };
/** Two pulls of 6 s through 2500–6500 rpm at 170 kPa; `retard` while between 3000 and 5000 rpm. */
function log(retard: number, more: Record<string, Shape> = {}) {
	const one = pullShapes(10);
	const two = pullShapes(30);
	const shapes: Record<string, Shape> = Object.fromEntries(
		Object.keys(one).map((id) => [id, (t: number) => (t < 25 ? one[id]!(t) : two[id]!(t))])
	);
	shapes['knockRetard'] = (t) => {
		const rpm = shapes['rpm']!(t);
		// Half of the time in the region, at two heights, so that it doesn't sit at its top.
		return rpm > 3000 && rpm < 5000 && Math.floor(t * 2) % 2 === 0
			? retard * (1 + 0.3 * Math.sin(t * 40))
			: 0;
	};
	return prepare(handMade(50, 50, { ...shapes, iat: () => 30, ...more }), { vehicle: vehicleWith() });
}
const measured = (retard: number, more: Record<string, Shape> = {}) =>
	proofMeasure(log(retard, more), region)!;

describe('what is compared', () => {
	it('is retard over time in the region per second loaded there', () => {
		const m = measured(2);
		// Loaded in the region for 2 × 3 s, retard 2° on average for half of it.
		expect(m.secondsLoaded).toBeCloseTo(6, 0);
		expect(m.meanRetardDeg).toBeGreaterThan(0.7);
		expect(m.meanRetardDeg).toBeLessThan(1.3);
		expect(m.pulls).toBe(2);
		expect(m.intakeC).toBeCloseTo(30, 5);
		expect(m.saturated).toBe(false);
	});
	it('knows when the retard sits at its maximum', () => {
		expect(measured(0, { knockRetard: (t) => (t > 11 && t < 15 ? 8 : 0) }).saturated).toBe(true);
	});
	it('is nothing where no knock is logged', () => {
		const shapes = pullShapes();
		delete shapes['knockRetard'];
		expect(proofMeasure(prepare(handMade(30, 20, shapes), { vehicle: vehicleWith() }), region)).toBeNull();
	});
});

const m = (meanRetardDeg: number, more: Partial<ProofMeasure> = {}): ProofMeasure => ({
	meanRetardDeg,
	secondsLoaded: 6,
	pulls: 2,
	intakeC: 30,
	rpm: 4000,
	mapKpa: 170,
	saturated: false,
	monitor: null,
	...more
});

describe('the verdict of the protocol (common practice)', () => {
	const cases: [string, Parameters<typeof proofVerdict>[0], string][] = [
		['nothing measured', {}, 'open'],
		['only a baseline', { baseline: m(2) }, 'open'],
		['no retard in the baseline', { baseline: m(0), mixture: m(0), timing: m(0), octane: m(0) }, 'open'],
		['it falls by 30 % with less timing', { baseline: m(2), timing: m(1.4) }, 'real'],
		['29 % is no fall, and steps are missing', { baseline: m(2), timing: m(1.42) }, 'open'],
		['it falls with octane only', { baseline: m(2), mixture: m(2), timing: m(2), octane: m(1) }, 'real'],
		['nothing changes it', { baseline: m(2), mixture: m(2.2), timing: m(1.8), octane: m(2.1) }, 'false'],
		['one step moves by 20 %', { baseline: m(2), mixture: m(2), timing: m(1.6), octane: m(2) }, 'unclear'],
		['it grows with octane', { baseline: m(2), mixture: m(2), timing: m(2), octane: m(3) }, 'unclear'],
		['the monitor hears it', { baseline: m(2, { monitor: 0.8 }) }, 'real'],
		['the monitor hears nothing', { baseline: m(2, { monitor: 0.02 }) }, 'false'],
		[
			'the monitor hears nothing, yet less timing helps',
			{ baseline: m(2, { monitor: 0 }), timing: m(1) },
			'real'
		],
		[
			'a single pull proves nothing',
			{ baseline: m(2, { pulls: 1 }), mixture: m(2), timing: m(2), octane: m(2) },
			'open'
		]
	];
	it.each(cases)('%s', (_, measures, verdict) => {
		expect(proofVerdict(measures).verdict).toBe(verdict);
	});
	it.each([
		['hotter air', { intakeC: 36 }, 'intake air 36 °C'],
		['other engine speed', { rpm: 4300 }, 'not the same driving'],
		['other pressure', { mapKpa: 176 }, 'not the same driving'],
		['retard at its end', { saturated: true }, 'at its maximum'],
		['not driven there', { secondsLoaded: 0 }, 'not driven']
	])('a step with %s is void and proves nothing', (_, more, why) => {
		const verdict = proofVerdict({ baseline: m(2), mixture: m(2), timing: m(2, more), octane: m(2) });
		expect(verdict.verdict).toBe('open');
		expect(verdict.steps.find((s) => s.step === 'timing')!.void).toContain(why);
	});
	it.each([
		['intake air', { intakeC: 34.9 }],
		['engine speed', { rpm: 4249 }],
		['pressure', { mapKpa: 174.9 }]
	])('a step just inside the tolerance of %s counts', (_, more) => {
		expect(proofVerdict({ baseline: m(2), mixture: m(2), timing: m(2, more), octane: m(2) }).verdict).toBe(
			'false'
		);
	});
});
