/** Sensors that can't be right by themselves, on hand-made logs. */
import { drive, reportOn } from '../../testing/check-cases.ts';
import { describe, expect, it } from 'vitest';
import {
	findingOf,
	handMade,
	reportOf,
	vehicleWith,
	type Shape,
	outcomeOf,
	calibrationWith
} from '../../testing/hand-made.ts';

const car = vehicleWith({}, { sensors: { mapFullScaleKpa: 250 } });
/** Up and down between 2000 and 6000 rpm with the load, for 100 s. */
const wave = (t: number) => 0.5 - 0.5 * Math.cos((2 * Math.PI * t) / 25);
const shapes = (more: Record<string, Shape> = {}): Record<string, Shape> => ({
	rpm: (t) => 2000 + 4000 * wave(t),
	map: (t) => 40 + 60 * wave(t),
	tps: (t) => 20 + 75 * wave(t),
	ect: (t) => 88 + Math.sin(t / 9),
	'lambda.b1': (t) => 1 + 0.02 * Math.sin(t),
	spark: (t) => 30 - 10 * wave(t),
	...more
});
const flat = (deg: number) =>
	calibrationWith(
		[
			{
				id: 'spark.table',
				kind: 'map',
				x: { channel: 'rpm', points: [1000, 7000] },
				y: { channel: 'map', unit: 'kPa', points: [20, 120] },
				values: [
					[deg, deg],
					[deg, deg]
				]
			}
		],
		{ name: 'flat' }
	);
const sensor = (more: Record<string, Shape>, calibration?: ReturnType<typeof flat>) =>
	findingOf(reportOf(handMade(100, 20, shapes(more)), car, calibration ? [calibration] : []), 'log.sensor');

describe('log.sensor', () => {
	it('says nothing of sensors that move with the engine', () => {
		expect(sensor({})).toBeUndefined();
	});
	it('a reading that stands while the engine moves is stuck', () => {
		for (const [id, word] of [
			['map', 'Manifold pressure'],
			['lambda.b1', 'Lambda'],
			['spark', 'Timing']
		] as const) {
			const f = sensor({ [id]: () => (id === 'lambda.b1' ? 0.98 : 50) });
			expect(f, id).toMatchObject({ severity: 'fix', channels: [id] });
			expect(f!.summary, id).toContain(word);
			expect(f!.summary, id).toContain("doesn't change");
		}
	});
	it('a mixture that stands still while its target goes from one level to another isn’t measured', () => {
		const target: Shape = (t) => (t > 12 && t < 15 ? 0.78 : 0.86);
		const of = (lambda: Shape) =>
			findingOf(reportOn(drive({ 'lambda.target': target, 'lambda.b1': lambda })), 'log.sensor');
		expect(of(() => 0.86)).toMatchObject({ severity: 'fix', channels: ['lambda.b1'] });
		expect(of((t) => target(t - 0.2) * (1 + 0.002 * Math.sin(9 * t)))).toBeUndefined();
		// Held by the logger between its updates, once a second.
		expect(of((t) => target(Math.floor(t)) * (1 + 0.002 * Math.sin(9 * Math.floor(t))))).toBeUndefined();
	});
	it('a mixture that stands still before the start and while the sensor warms up is none that lies', () => {
		const standing = (t: number) => t < 3;
		const log = handMade(
			40,
			20,
			shapes({
				rpm: (t) => (standing(t) ? 0 : 900 + 4000 * wave(t)),
				map: (t) => (standing(t) ? 100 : 40 + 60 * wave(t)),
				speed: (t) => (standing(t) ? 0 : 60 * wave(t)),
				'lambda.b1': (t) => (t < 8 ? 1.01 : 1 + 0.02 * Math.sin(t)),
				'lambda.target': (t) => (t < 5 ? 1 : 0.85)
			})
		);
		expect(findingOf(reportOf(log, car), 'log.sensor')).toBeUndefined();
	});
	it('timing that stands where its table does is what was asked for; elsewhere it is stuck', () => {
		expect(sensor({ spark: () => 6 }, flat(6))).toBeUndefined();
		expect(sensor({ spark: () => 6 }, flat(20))).toMatchObject({ channels: ['spark'] });
	});
	it('a pressure at full scale under load is at its end', () => {
		expect(sensor({ map: (t) => Math.min(250, 40 + 260 * wave(t)) })).toMatchObject({
			severity: 'stop',
			channels: ['map']
		});
	});
	it('what is physically impossible is said with its share', () => {
		const f = sensor({ ect: (t) => (t > 50 ? 400 : 88 + Math.sin(t)) });
		expect(f).toMatchObject({ severity: 'fix', channels: ['ect'] });
		expect(f!.summary).toContain('50 %');
	});
	it('a temperature that jumps for single samples has a bad contact', () => {
		const spikes = [10, 30, 50, 70];
		const f = sensor({
			ect: (t) => (spikes.some((s) => Math.abs(t - s) < 0.02) ? 20 : 88 + Math.sin(t / 9))
		});
		expect(f!.summary).toContain('jumps 4 times');
	});
});

describe('log.sensor on the road', () => {
	/** A minute of hills: speed and load go up and down. */
	const hills: Record<string, Shape> = {
		rpm: (t) => 2600 + 900 * Math.sin(t / 4),
		map: (t) => 55 + 18 * Math.sin(t / 3),
		baro: () => 100,
		tps: (t) => 34 + 10 * Math.sin(t / 3),
		ect: (t) => 88 + Math.sin(t),
		'lambda.b1': (t) => 1 + 0.01 * Math.sin(t * 3),
		'lambda.target': () => 1,
		knockRetard: () => 0
	};
	const after =
		(s: number, value: number, before: Shape): Shape =>
		(t) =>
			t > 10 && t < 10 + s ? value : before(t);
	it('passes a drive over hills', () => {
		expect(outcomeOf(reportOn(handMade(60, 20, hills)), 'log.sensor').outcome).toBe('pass');
	});
	it('a pressure that stands still for 25 s while everything moves is to fix, for 15 s nothing', () => {
		const stuck = (s: number) =>
			findingOf(reportOn(handMade(60, 20, { ...hills, map: after(s, 60, hills['map']!) })), 'log.sensor');
		expect(stuck(25)).toMatchObject({ severity: 'fix', channels: ['map'] });
		expect(stuck(15)).toBeUndefined();
	});
	it('a throttle that stands while engine speed goes up and down is to fix; held through one run up a gear it is not', () => {
		const shape: Shape = (t) => (t > 10 && t < 40 ? 30 : t > 50 ? 80 : 34);
		const waves = reportOn(handMade(60, 20, { ...hills, tps: shape }));
		expect(findingOf(waves, 'log.sensor')?.channels).toEqual(['tps']);
		const sweep: Record<string, Shape> = {
			...hills,
			tps: shape,
			rpm: (t) => (t > 10 && t < 40 ? 1800 + (t - 10) * 110 : 1800),
			map: (t) => (t > 10 && t < 40 ? 95 - (t - 10) : 60 + Math.sin(t))
		};
		expect(findingOf(reportOn(handMade(60, 20, sweep)), 'log.sensor')).toBeUndefined();
	});
	it('constant channels at a steady cruise are no fault', () => {
		const steady = { rpm: () => 2500, map: () => 50, tps: () => 20, 'lambda.b1': () => 1, ect: () => 88 };
		expect(findingOf(reportOn(handMade(60, 20, steady)), 'log.sensor')).toBeUndefined();
	});
	it('a temperature that is physically impossible, and one that jumps', () => {
		expect(
			findingOf(reportOn(handMade(60, 20, { ...hills, iat: () => 300 })), 'log.sensor')?.summary
		).toContain('physically possible');
		const jumping: Shape = (t) => (Math.abs((t % 10) - 5) < 0.01 ? 150 : 30);
		expect(
			findingOf(reportOn(handMade(60, 20, { ...hills, iat: jumping })), 'log.sensor')?.summary
		).toContain('jumps');
	});
	it('a wideband at its end under load is a stop', () => {
		const pegged: Shape = (t) =>
			t >= 12 && t < 15 ? 0.68 : t >= 10 && t < 16 ? 0.79 + 0.005 * Math.sin(t * 9) : 1;
		expect(findingOf(reportOn(drive({ 'lambda.b1': pegged })), 'log.sensor')).toMatchObject({
			severity: 'stop',
			channels: ['lambda.b1']
		});
	});
	it('a fuel cut legitimately pegs lambda lean', () => {
		const cut = (t: number) => t >= 13 && t < 14;
		const shapes = {
			'pw.b1': (t: number) => (cut(t) ? 0 : 9 + 0.1 * Math.sin(t)),
			'lambda.b1': (t: number) => (t >= 13.1 && t < 14.1 ? 1.6 : 0.8 + 0.004 * Math.sin(t * 9))
		};
		expect(findingOf(reportOn(drive(shapes)), 'log.sensor')).toBeUndefined();
	});
	it('a pressure sensor at its full scale under load is a stop, when the scale is known', () => {
		const full = { map: (t: number) => (t >= 10 && t < 16 ? 250 : 45) };
		expect(
			findingOf(reportOn(drive(full), vehicleWith({}, { sensors: { mapFullScaleKpa: 250 } })), 'log.sensor')
				?.severity
		).toBe('stop');
		expect(findingOf(reportOn(drive(full)), 'log.sensor')).toBeUndefined();
	});
	it('an air meter whose flow stops rising with engine speed is a stop', () => {
		const meter: Shape = (t) => (t >= 10 && t < 16 ? Math.min(210, 100 + (t - 10) * 40) : 20 + Math.sin(t));
		expect(findingOf(reportOn(drive({ maf: meter })), 'log.sensor')).toMatchObject({
			severity: 'stop',
			channels: ['maf']
		});
	});
	it('noise round a standing zero is no fault', () => {
		expect(
			findingOf(
				reportOn(handMade(60, 20, { ...hills, speed: (t) => -0.05 + 0.02 * Math.sin(t * 50) })),
				'log.sensor'
			)
		).toBeUndefined();
	});
});
