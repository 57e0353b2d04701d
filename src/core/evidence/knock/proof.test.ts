import { plain } from '../../format.ts';
import { prepare } from '../prepare.ts';
import { describe, expect, it } from 'vitest';
import { handMade, pullShapes, vehicleWith, type Shape } from '../../testing/hand-made.ts';
import { fallOf, monitorWords, proofMeasure, proofVerdict, stepNeeds, type ProofMeasure } from './proof.ts';

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
		expect(m.perPullDeg).toHaveLength(2);
		expect(m.perPullDeg.reduce((a, b) => a + b) / 2).toBeCloseTo(m.meanRetardDeg, 1);
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

/** Three pulls about a mean, `scatter` of it apart; the step of timing has reached the engine. */
const m = (meanRetardDeg: number, more: Partial<ProofMeasure> = {}, scatter = 0.02): ProofMeasure => ({
	perPullDeg: [1 - scatter, 1, 1 + scatter].map((f) => f * meanRetardDeg),
	meanRetardDeg,
	secondsLoaded: 6,
	intakeC: 30,
	rpm: 4000,
	mapKpa: 170,
	ethanolPct: 5,
	sparkBaseDeg: 16,
	lambda: 0.8,
	saturated: false,
	staircase: false,
	monitor: null,
	...more
});
const back = { sparkBaseDeg: 14 };
/** All steps after a baseline of 2°, with these retards. */
const all = (mixture: number, timing: number, octane: number, again = 2, scatter = 0.02) => ({
	baseline: m(2, {}, scatter),
	mixture: m(mixture, {}, scatter),
	timing: m(timing, back, scatter),
	octane: m(octane, {}, scatter),
	again: m(again, {}, scatter)
});

describe('a fall with its bounds', () => {
	it('is exact where nothing scatters', () => {
		expect(fallOf([2, 2, 2], [1, 1, 1])).toEqual({ pct: 50, low: 50, high: 50 });
	});
	it('has the bounds of Welch and Student by hand', () => {
		// Means 2 and 1, variances of the means 0.01/3 each: s² = (0.25·0.01 + 0.01)/(3·4); t at 2.9 → 2 degrees is 4.303.
		const f = fallOf([1.9, 2, 2.1], [0.9, 1, 1.1]);
		const half = 4.303 * Math.sqrt((0.25 * 0.01 + 0.01) / 12);
		expect(f.pct).toBeCloseTo(50, 6);
		expect(f.low).toBeCloseTo(100 * (0.5 - half), 6);
		expect(f.high).toBeCloseTo(100 * (0.5 + half), 6);
	});
});

describe('the verdict of the protocol (common practice)', () => {
	const cases: [string, Parameters<typeof proofVerdict>[0], string][] = [
		['nothing measured', {}, 'open'],
		['only a baseline', { baseline: m(2) }, 'open'],
		['no retard in the baseline', { baseline: m(0), mixture: m(0), timing: m(0), octane: m(0) }, 'open'],
		['it falls by 31 % with less timing', { baseline: m(2), timing: m(1.38, back) }, 'real'],
		['29 % is no fall, and steps are missing', { baseline: m(2), timing: m(1.42, back) }, 'open'],
		['it falls with octane only', all(2, 2, 1), 'real'],
		['nothing changes it', all(2.1, 1.9, 2.05), 'false'],
		['nothing changes it, but the baseline was not repeated', { ...all(2, 2, 2), again: undefined! }, 'open'],
		['the baseline did not come back', all(2, 2, 2, 1.2), 'open'],
		['one step moves by 24 %', all(2, 1.52, 2), 'unclear'],
		['nothing changes it, but pulls scatter by a third', all(2, 2, 2, 2, 0.33), 'unclear'],
		['a fall by half that the scatter could make', { ...all(2, 2, 2), timing: m(1, back, 1) }, 'unclear'],
		['it climbs like a staircase', { baseline: m(2, { staircase: true }) }, 'real'],
		['the monitor hears it', { baseline: m(2, { monitor: 0.8 }) }, 'real'],
		['a living monitor hears nothing of a baseline alone', { baseline: m(2, { monitor: 0.02 }) }, 'open'],
		[
			'a living monitor hears nothing, and the baseline came back',
			{ baseline: m(2, { monitor: 0.02 }), again: m(2, { monitor: 0 }) },
			'false'
		],
		[
			'a living monitor hears nothing, and the baseline did not come back',
			{ baseline: m(2, { monitor: 0.02 }), again: m(1.2, { monitor: 0 }) },
			'open'
		],
		[
			'the monitor hears nothing, yet less timing helps',
			{ baseline: m(2, { monitor: 0 }), timing: m(1, back) },
			'real'
		],
		['two pulls prove nothing', { ...all(2, 2, 2), baseline: m(2, { perPullDeg: [2, 2] }) }, 'open']
	];
	it.each(cases)('%s', (_, measures, verdict) => {
		const known = Object.fromEntries(Object.entries(measures).filter(([, v]) => v !== undefined));
		expect(proofVerdict(known).verdict).toBe(verdict);
	});
	it('never asks for more than six pulls of a step, and says what would decide it', () => {
		const { verdict, because } = proofVerdict(all(2, 2, 2, 2, 0.9));
		expect(verdict).toBe('unclear');
		expect(because).toMatch(/Driving won't decide it.*monitor/);
		expect(because).not.toMatch(/more pull/);
	});
	it('says how many pulls more would tell', () => {
		expect(proofVerdict(all(2, 2, 2, 2, 0.15)).because).toMatch(
			/About \d+ more pulls? of each step would tell/
		);
	});
	it.each([
		['hotter air', { intakeC: 36 }, 'intake air 36 °C'],
		['other engine speed', { rpm: 4300 }, 'not the same driving'],
		['other pressure', { mapKpa: 176 }, 'not the same driving'],
		['retard at its end', { saturated: true }, 'at its maximum'],
		['not driven there', { secondsLoaded: 0 }, 'not driven'],
		['timing that never came', { sparkBaseDeg: 15.5 }, 'did not reach the engine'],
		['nothing logged that shows it', { sparkBaseDeg: NaN, lambda: NaN }, 'nobody knows']
	])('a step with %s is void and proves nothing', (_, more, why) => {
		const verdict = proofVerdict({ ...all(2, 2, 2), timing: m(2, { ...back, ...more }) });
		expect(verdict.verdict).toBe('open');
		expect(plain(verdict.steps.find((s) => s.step === 'timing')!.void)).toContain(why);
	});
	it('fuel instead of timing reaches the engine as well', () => {
		expect(proofVerdict({ ...all(2, 2, 2), timing: m(2, { lambda: 0.77 }) }).verdict).toBe('false');
	});
	it.each([
		['intake air', { intakeC: 34.9 }],
		['engine speed', { rpm: 4249 }],
		['pressure', { mapKpa: 174.9 }]
	])('a step just inside the tolerance of %s counts', (_, more) => {
		expect(proofVerdict({ ...all(2, 2, 2), timing: m(2, { ...back, ...more }) }).verdict).toBe('false');
	});
});

describe('a monitor', () => {
	const noisy = (t: number) => 5 + 4 * Math.sin(t * 9);
	it('that never moves is none', () => {
		expect(measured(2, { knockMonitor: () => 0 }).monitor).toBeNull();
		expect(measured(2, { knockMonitor: noisy }).monitor).toBe(0);
	});
});

describe('what a step that is still to be driven needs', () => {
	it('is the driving and the air of the baseline', () => {
		const m = measured(2);
		expect(plain(stepNeeds({ ...m, rpm: 4210, mapKpa: 168, intakeC: 34 }))).toBe(
			'3 pulls through the region at 4210 ± 250 rpm, 168 kPa ± 5 kPa and intake air 34 °C ± 5 °C on average'
		);
		expect(plain(stepNeeds({ ...m, rpm: 4210, mapKpa: 168, intakeC: Number.NaN }))).not.toContain('intake');
	});
	it.each([
		[null, 'none, or not alive'],
		[0.8, 'hears 80 %: agrees'],
		[0.3, 'hears 30 %'],
		[0.02, 'hears 2 %: contradicts']
	])('a monitor at %s: %s', (monitor, words) => {
		expect(monitorWords({ ...measured(2), monitor })).toBe(words);
	});
});
