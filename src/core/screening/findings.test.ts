/** What findings say and weigh beyond passing or not: figures, words, which of several sources, what one fault makes of others. */
import { describe, expect, it } from 'vitest';
import {
	air,
	at,
	findingOf,
	handMade,
	inPull,
	outcomeOf,
	perCylinder,
	pulled,
	pullShapes,
	reportOf,
	v6,
	vehicleWith,
	type Shape
} from '../testing/hand-made.ts';
import type { Vehicle } from '../vehicle/document.ts';

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
		expect(mild.findings.filter((f) => /^knock\./.test(f.code)).map((f) => f.severity)).toEqual(['note']);
		const hard = reportOf(handMade(60, 20, shapes(7)), v6);
		expect(hard.findings.some((f) => /^knock\./.test(f.code) && f.severity === 'stop')).toBe(true);
	});
});

describe('sensor.lambda', () => {
	const two = (more: object[] = []) =>
		vehicleWith(
			{},
			{
				sensors: {
					lambda: [
						{ channel: 'lambda.b1', kind: 'factory', site: 'bank1' },
						{ channel: 'lambda.ref', kind: 'independent', site: 'bank1' },
						...more
					]
				}
			}
		);
	const three = two([{ channel: 'lambda.ref2', kind: 'independent', site: 'collector' }]);
	const target = { 'lambda.target': pulled(12.6 / 14.7, 1) };
	const report = (shapes: Record<string, Shape>, vehicle: Vehicle) =>
		reportOf(handMade(60, 20, { ...pullShapes(), ...target, ...shapes }), vehicle);
	const at147 = (afr: number) => pulled(afr / 14.7, 1);
	it.each([
		[0.975, undefined],
		[0.965, 'watch'],
		[0.94, 'fix'],
		[0.91, 'stop']
	])('factory at × %f of the instrument: %s', (share, severity) => {
		const r = report({ 'lambda.ref': at147(12.6), 'lambda.b1': at147(12.6 * share) }, two());
		expect(findingOf(r, 'sensor.lambda')?.severity).toBe(severity);
	});
	it('11.1 against 12.5 and 12.7 from two others: the odd one is named, the others are believed (common practice)', () => {
		const r = report(
			{ 'lambda.b1': at147(11.1), 'lambda.ref': at147(12.5), 'lambda.ref2': at147(12.7) },
			three
		);
		const f = findingOf(r, 'sensor.lambda')!;
		expect(f.severity).toBe('stop');
		expect(f.title).toContain("The controller's lambda reads rich");
		expect(f.value).toBeLessThan(-10);
		// What two agree on is on target: nothing else is raised.
		expect(
			r.findings.filter((x) => x.severity === 'stop' || x.severity === 'fix').map((x) => x.code)
		).toEqual(['sensor.lambda']);
	});
	it('with two that differ nobody is named, and the leaner is believed', () => {
		const r = report({ 'lambda.b1': at147(11.1), 'lambda.ref': at147(12.6) }, two());
		expect(findingOf(r, 'sensor.lambda')!.summary).toContain('the leaner is believed');
		expect(findingOf(r, 'fuel.rich')).toBeUndefined();
	});
	it('one kind of source is no comparison', () => {
		const r = report({}, vehicleWith());
		expect(outcomeOf(r, 'sensor.lambda').outcome).toBe('not-checked');
	});
});

describe('inj.reserve', () => {
	const vehicle = (more: object = {}) =>
		vehicleWith(more, {
			injectors: {
				injectionsPerCycle: 1,
				deadTimeMs: [
					[10, 1.5],
					[14, 1]
				]
			}
		});
	const shapes = (pw: number, iat: number): Record<string, Shape> => ({
		...pullShapes(),
		'pw.b1': pulled(pw, 3),
		iat: at(iat),
		ambientTemp: at(iat - 15),
		vbat: at(14)
	});
	it('projects the pulse without dead time by temperature to the rev limit', () => {
		// 11 ms at 35 °C intake over 20 °C ambient: (11 − 1) × (308.15 / 278.15) + 1 = 12.08 ms at 7000 rpm = 70.5 %.
		const r = reportOf(handMade(30, 20, shapes(11, 35)), vehicle());
		expect(outcomeOf(r, 'inj.reserve')).toMatchObject({ outcome: 'pass' });
		expect(outcomeOf(r, 'inj.reserve').reason).toContain('70 %');
	});
	it('low 70s on a warm day come to 82–85 % in the cold without boost control (common practice)', () => {
		// 73 % at 7000 rpm is 12.5 ms; NA goes with pressure too.
		const r = reportOf(handMade(30, 20, shapes(12.5, 35)), vehicle({ aspiration: 'supercharged' }));
		const text = outcomeOf(r, 'inj.reserve').reason ?? findingOf(r, 'inj.reserve')!.summary;
		const duty = Number(/(\d+) %/.exec(text)![1]);
		expect(duty).toBeGreaterThanOrEqual(80);
		expect(duty).toBeLessThanOrEqual(86);
	});
	it.each([
		[14.5, 'watch'],
		// From 85 % of today's duty on the projection only adds to inj.duty.
		[16, 'note']
	])('%f ms: %s', (pw, severity) => {
		expect(findingOf(reportOf(handMade(30, 20, shapes(pw, 35)), vehicle()), 'inj.reserve')!.severity).toBe(
			severity
		);
	});
	it('says what is missing', () => {
		expect(outcomeOf(reportOf(handMade(30, 20, shapes(11, 35)), vehicleWith()), 'inj.reserve').missing).toBe(
			'vehicle: injectors.deadTimeMs'
		);
	});
});
