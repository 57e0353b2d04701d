import { describe, expect, it } from 'vitest';
import {
	at,
	findingOf,
	handMade,
	outcomeOf,
	pulled,
	pullShapes,
	reportOf,
	vehicleWith,
	type Shape
} from '../../testing/hand-made.ts';
import { profileOf } from '../../limits/profile.ts';
import { fuelFactor } from '../reserve.ts';
import { worstDayAir } from './worst-day.ts';

const injectors = {
	deadTimeMs: [
		[8, 1],
		[16, 1]
	]
};
/** A pull from 2500 rpm to `top`; the pulse falls from 18 ms at 3500 to 14 at 6800 rpm, as filling does behind the torque peak. */
function shapes(top: number, pulseAt: (rpm: number) => number): Record<string, Shape> {
	const rpm: Shape = (t) => (t >= 10 && t < 16 ? 2500 + ((t - 10) / 6) * (top - 2500) : 2500);
	return {
		...pullShapes(),
		rpm,
		iat: at(20),
		ambientTemp: at(20),
		'pw.b1': (t) => (t >= 10 && t < 16 ? pulseAt(rpm(t)) : 3)
	};
}
const falling = (rpm: number) => 18 - ((rpm - 3500) / 3300) * 4;
const report = (top: number, engine: object = {}, more: Record<string, Shape> = {}) =>
	reportOf(handMade(40, 20, { ...shapes(top, falling), ...more }), vehicleWith(engine, { injectors }));

/** Duty of an effective pulse at 7000 rpm, on the worst day at the same absolute boost. */
const cold = (273.15 + 20) / (273.15 - 10);
const duty = (pulse: number) => (((pulse - 1) * cold + 1) * 7000) / 1200;

describe('inj.reserve', () => {
	it.each([6250, 6350, 6600, 6800, 6950])(
		'takes the pulse at the limiter, not that of the torque peak, and makes no step where a log ends at %i rpm',
		(top) => {
			const f = findingOf(report(top), 'inj.reserve')!;
			expect(f.value).toBeGreaterThan(duty(falling(7000)) - 0.5);
			expect(f.value).toBeLessThan(duty(falling(7000)) + 0.7);
		}
	);
	it('carries the trend of the pulse on where the log ends early', () => {
		const f = findingOf(report(5600), 'inj.reserve')!;
		expect(f.value).toBeCloseTo(duty(falling(7000)), 0);
		expect(f.summary).toContain('by its trend to 7000 rpm');
	});
	it('says nothing from a log that ends far below', () => {
		expect(outcomeOf(report(4000), 'inj.reserve')).toMatchObject({ outcome: 'not-checked' });
	});
	it('a lean mixture needs a longer pulse', () => {
		const lean = findingOf(report(6800, {}, { 'lambda.b1': pulled(0.8 * 1.06, 1) }), 'inj.reserve')!;
		const right = findingOf(report(6800), 'inj.reserve')!;
		expect(lean.value! / right.value!).toBeCloseTo(1.055, 2);
	});
});

describe('air on the worst day', () => {
	const profile = profileOf();
	const now = { mapKpa: 200, iatC: 20, ambientC: 20, baroKpa: 95 };
	const t = (273.15 + 20) / (273.15 - 10);
	it('by the way boost is controlled', () => {
		expect(worstDayAir('absolute', now, profile)).toBeCloseTo(t, 6);
		expect(worstDayAir('gauge', now, profile)).toBeCloseTo((t * 208) / 200, 6);
		expect(worstDayAir('ratio', now, profile)).toBeCloseTo((t * 103) / 95, 6);
		expect(worstDayAir(null, { ...now, mapKpa: 95 }, profile)).toBeCloseTo((t * 103) / 95, 6);
	});
	it('a centrifugal charger keeps (PR^0.286 − 1)·T1', () => {
		const map = (worstDayAir('centrifugal', now, profile) / t) * 200;
		const work = (pr: number, kelvin: number) => (pr ** 0.286 - 1) * kelvin;
		expect(work(map / 103, 263.15)).toBeCloseTo(work(200 / 95, 293.15), 6);
	});
	it('never takes off', () => {
		expect(worstDayAir('absolute', { ...now, iatC: -20, ambientC: -20 }, profile)).toBe(1);
	});
});

describe('fuel for another blend', () => {
	it('goes by pulse with 1 / (stoich · √density)', () => {
		// Handbook: 14.7 and 0.745 kg/l for petrol, 9.0 and 0.789 for ethanol.
		expect(fuelFactor(0, 100)).toBeCloseTo((14.7 * Math.sqrt(0.745)) / (9 * Math.sqrt(0.789)), 6);
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
