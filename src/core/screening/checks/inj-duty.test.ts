import { directDutyPct, portDutyPct } from '../../evidence/duty.ts';
import { describe, expect, it } from 'vitest';
import {
	findingOf,
	handMade,
	outcomeOf,
	pullShapes,
	reportOf,
	vehicleWith,
	type Shape
} from '../../testing/hand-made.ts';

const RATE = 20;
const drive = (shapes: Record<string, Shape>, seconds = 30, rate = RATE) => handMade(seconds, rate, shapes);

describe('inj.duty', () => {
	it('common practice: duty = pulse width × rpm / 1200', () => {
		expect(portDutyPct(15.5, 6500, 1)).toBeCloseTo(83.96, 2);
		expect(portDutyPct(8, 6000, 2)).toBeCloseTo(80, 9);
		// 250° at 6000 rpm are 6.944 ms.
		expect(directDutyPct(5.5556, 6000, 250)).toBeCloseTo(80, 2);
	});
	/** A pulse that reaches the wanted duty at the top of the pull, 6500 rpm. */
	const with_ = (percent: number, vehicle = vehicleWith(), more: Record<string, Shape> = {}) =>
		reportOf(
			drive(
				{ ...pullShapes(), 'pw.b1': (t) => (t >= 10 && t < 16 ? (percent * 1200) / 6500 : 3), ...more },
				30,
				100
			),
			vehicle
		);
	it.each([
		[79, undefined],
		[81, 'watch'],
		[84, 'watch'],
		[86.5, 'fix'],
		[97, 'stop']
	])('%f %% is %s', (percent, severity) => {
		expect(findingOf(with_(percent), 'inj.duty')?.severity).toBe(severity);
	});
	it('a single wild sample is none', () => {
		const shapes = { ...pullShapes(), 'pw.b1': (t: number) => (Math.abs(t - 15) < 0.004 ? 40 : 6) };
		expect(findingOf(reportOf(drive(shapes, 30, 100), vehicleWith()), 'inj.duty')).toBeUndefined();
	});
	it('direct injection without a stated window is not checked', () => {
		expect(outcomeOf(with_(50, vehicleWith({ injection: 'direct' })), 'inj.duty')).toMatchObject({
			outcome: 'not-checked',
			missing: 'vehicle: injectors.windowDeg'
		});
	});
	it('says so when the logged duty is another one', () => {
		const f = findingOf(
			with_(60, vehicleWith(), { injDuty: (t) => (t >= 10 && t < 16 ? 30 : 8) }),
			'inj.duty'
		);
		expect(f).toMatchObject({ severity: 'note' });
		expect(f?.summary).toContain('check injections per cycle');
	});
	it('is not checked without pulse width or duty', () => {
		const { ['pw.b1']: _p, ...rest } = pullShapes();
		expect(outcomeOf(reportOf(drive(rest), vehicleWith()), 'inj.duty')).toMatchObject({
			outcome: 'not-checked'
		});
	});
});
