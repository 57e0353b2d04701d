/** Section A: is the log fit to judge from? All logs hand-made. */
import { describe, expect, it } from 'vitest';
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import { readLog } from '../logfile/read.ts';
import { parseRequest } from '../request.ts';
import {
	findingOf,
	handMade,
	outcomeOf,
	pullShapes,
	reportOf,
	vehicleWith,
	type Shape
} from '../testing/hand-made.ts';
import { screen } from './screen.ts';

const drive = (more: Record<string, Shape> = {}, seconds = 40, rate = 20) =>
	handMade(seconds, rate, { ...pullShapes(), ...more });
const report = (log: ReturnType<typeof handMade>, vehicle = vehicleWith()) => reportOf(log, vehicle);

describe('log.timebase', () => {
	/** The drive with a hole between two moments. */
	function holed(from: number, to: number, rate = 20) {
		const log = drive({}, 40, rate);
		const keep = Array.from(log.channels[0]!.timeS, (t, i) => (t < from || t >= to ? i : -1)).filter(
			(i) => i >= 0
		);
		const timeS = Float64Array.from(keep, (i) => log.channels[0]!.timeS[i]!);
		log.channels = log.channels.map((c) => ({
			...c,
			timeS,
			values: Float32Array.from(keep, (i) => c.values[i]!)
		}));
		return log;
	}
	it('passes a steady 20 Hz', () => {
		expect(outcomeOf(report(drive()), 'log.timebase').outcome).toBe('pass');
	});
	it('a gap elsewhere is to watch, one under load to fix, 0.4 s are none', () => {
		expect(findingOf(report(holed(25, 26)), 'log.timebase')).toMatchObject({ severity: 'watch', unit: 's' });
		expect(findingOf(report(holed(12, 13)), 'log.timebase')?.severity).toBe('fix');
		expect(findingOf(report(holed(25, 25.4)), 'log.timebase')).toBeUndefined();
	});
	it.each([
		[4, 'fix'],
		[8, 'watch'],
		[10, undefined]
	])('%i Hz in a pull is %s', (rate, severity) => {
		expect(findingOf(report(drive({}, 40, rate)), 'log.timebase')?.severity).toBe(severity);
	});
	it('a slow log without a pull is not blamed for its rate', () => {
		expect(findingOf(report(handMade(60, 4, pullShapes(1000))), 'log.timebase')).toBeUndefined();
	});
	it('a clean restart is a note, one in the middle of full load to fix', () => {
		const clean = drive();
		clean.timeFaults.restartsS.push(30);
		expect(findingOf(report(clean), 'log.timebase')?.severity).toBe('note');
		const loaded = drive();
		loaded.timeFaults.restartsS.push(13);
		expect(findingOf(report(loaded), 'log.timebase')?.severity).toBe('fix');
	});
});

describe('log.units', () => {
	const text = (unit: string, f: (i: number) => number) =>
		`Time (s),RPM (rpm),MAP (kPa),Coolant Temp (${unit})\n${Array.from({ length: 100 }, (_, i) => `${i / 10},${900 + i * 10},60,${f(i)}`).join('\n')}\n`;
	const of = (t: string) =>
		report(readLog([new TextEncoder().encode(t)], { gaugeStoich: 14.7, baroKpa: 100 }) as never);
	it('names both readings where the values contradict the unit', () => {
		const f = findingOf(of(text('°C', (i) => 188 + (i % 7))), 'log.units')!;
		expect(f).toMatchObject({ severity: 'fix', channels: ['ect'] });
		expect(f.summary).toContain('says °C, its values only make sense in °F');
	});
	it('passes where they fit', () => {
		expect(outcomeOf(of(text('°C', (i) => 85 + (i % 7))), 'log.units').outcome).toBe('pass');
		expect(outcomeOf(of(text('°F', (i) => 188 + (i % 7))), 'log.units').outcome).toBe('pass');
	});
});

describe('log.sensor', () => {
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
		expect(outcomeOf(report(handMade(60, 20, hills)), 'log.sensor').outcome).toBe('pass');
	});
	it('a pressure that stands still for 25 s while everything moves is to fix, for 15 s nothing', () => {
		const stuck = (s: number) =>
			findingOf(report(handMade(60, 20, { ...hills, map: after(s, 60, hills['map']!) })), 'log.sensor');
		expect(stuck(25)).toMatchObject({ severity: 'fix', channels: ['map'] });
		expect(stuck(15)).toBeUndefined();
	});
	it('a throttle that stands while engine speed goes up and down is to fix; held through one run up a gear it is not', () => {
		const shape: Shape = (t) => (t > 10 && t < 40 ? 30 : t > 50 ? 80 : 34);
		const waves = report(handMade(60, 20, { ...hills, tps: shape }));
		expect(findingOf(waves, 'log.sensor')?.channels).toEqual(['tps']);
		const sweep: Record<string, Shape> = {
			...hills,
			tps: shape,
			rpm: (t) => (t > 10 && t < 40 ? 1800 + (t - 10) * 110 : 1800),
			map: (t) => (t > 10 && t < 40 ? 95 - (t - 10) : 60 + Math.sin(t))
		};
		expect(findingOf(report(handMade(60, 20, sweep)), 'log.sensor')).toBeUndefined();
	});
	it('constant channels at a steady cruise are no fault', () => {
		const steady = { rpm: () => 2500, map: () => 50, tps: () => 20, 'lambda.b1': () => 1, ect: () => 88 };
		expect(findingOf(report(handMade(60, 20, steady)), 'log.sensor')).toBeUndefined();
	});
	it('a temperature that is physically impossible, and one that jumps', () => {
		expect(
			findingOf(report(handMade(60, 20, { ...hills, iat: () => 300 })), 'log.sensor')?.summary
		).toContain('physically possible');
		const jumping: Shape = (t) => (Math.abs((t % 10) - 5) < 0.01 ? 150 : 30);
		expect(findingOf(report(handMade(60, 20, { ...hills, iat: jumping })), 'log.sensor')?.summary).toContain(
			'jumps'
		);
	});
	it('a wideband at its end under load is a stop', () => {
		const pegged: Shape = (t) =>
			t >= 12 && t < 15 ? 0.68 : t >= 10 && t < 16 ? 0.79 + 0.005 * Math.sin(t * 9) : 1;
		expect(findingOf(report(drive({ 'lambda.b1': pegged })), 'log.sensor')).toMatchObject({
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
		expect(findingOf(report(drive(shapes)), 'log.sensor')).toBeUndefined();
	});
	it('a pressure sensor at its full scale under load is a stop, when the scale is known', () => {
		const full = { map: (t: number) => (t >= 10 && t < 16 ? 250 : 45) };
		expect(
			findingOf(report(drive(full), vehicleWith({}, { sensors: { mapFullScaleKpa: 250 } })), 'log.sensor')
				?.severity
		).toBe('stop');
		expect(findingOf(report(drive(full)), 'log.sensor')).toBeUndefined();
	});
	it('an air meter whose flow stops rising with engine speed is a stop', () => {
		const meter: Shape = (t) => (t >= 10 && t < 16 ? Math.min(210, 100 + (t - 10) * 40) : 20 + Math.sin(t));
		expect(findingOf(report(drive({ maf: meter })), 'log.sensor')).toMatchObject({
			severity: 'stop',
			channels: ['maf']
		});
	});
	it('noise round a standing zero is no fault', () => {
		expect(
			findingOf(
				report(handMade(60, 20, { ...hills, speed: (t) => -0.05 + 0.02 * Math.sin(t * 50) })),
				'log.sensor'
			)
		).toBeUndefined();
	});
});

describe('log.conditions', () => {
	it.each([
		[69, 'found'],
		[71, 'pass']
	])('coolant at %i °C when the pull begins: %s', (c, outcome) => {
		expect(outcomeOf(report(drive({ ect: () => c })), 'log.conditions').outcome).toBe(outcome);
	});
	it('intake air over ambient by more than 20 °C is heat soak; without an ambient the coolest of the log stands in', () => {
		expect(
			findingOf(report(drive({ iat: () => 43, ambientTemp: () => 20 })), 'log.conditions')?.title
		).toContain('heat-soaked');
		expect(
			findingOf(report(drive({ iat: () => 39, ambientTemp: () => 20 })), 'log.conditions')
		).toBeUndefined();
		expect(findingOf(report(drive({ iat: (t) => (t < 5 ? 20 : 45) })), 'log.conditions')?.severity).toBe(
			'watch'
		);
	});
	it('is not checked without a pull', () => {
		expect(outcomeOf(report(handMade(30, 20, pullShapes(1000))), 'log.conditions')).toMatchObject({
			outcome: 'not-checked',
			missing: 'a full-throttle pull'
		});
	});
});

describe('log.coverage', () => {
	const asked = (manoeuvres: object[], log = drive()) =>
		screen(log, { vehicle: vehicleWith(), request: parseRequest({ schema: 'tanto.request/1', manoeuvres }) });
	it('is not checked without a drive plan', () => {
		expect(outcomeOf(report(drive()), 'log.coverage')).toMatchObject({
			outcome: 'not-checked',
			missing: 'a drive plan'
		});
	});
	it('passes what was driven, and is to watch for what is missing', () => {
		expect(outcomeOf(asked([{ kind: 'pull' }, { kind: 'cruise' }]), 'log.coverage').outcome).toBe('pass');
		const f = findingOf(
			asked([
				{ kind: 'pull', count: 2 },
				{ kind: 'idle', minDurationS: 30 }
			]),
			'log.coverage'
		)!;
		expect(f.severity).toBe('watch');
		expect(f.summary).toContain('a full-throttle pull (1 of 2) and idle of 30 s');
	});
	it('no pull though one was asked for is to fix', () => {
		expect(
			findingOf(asked([{ kind: 'pull' }], handMade(30, 20, pullShapes(1000))), 'log.coverage')?.severity
		).toBe('fix');
	});
	it('a pull that ends below the asked engine speed does not count', () => {
		expect(findingOf(asked([{ kind: 'pull', rpm: [2500, 6500] }]), 'log.coverage')).toBeUndefined();
		expect(findingOf(asked([{ kind: 'pull', rpm: [2500, 7000] }]), 'log.coverage')).toBeDefined();
	});
});

describe('log.revision', () => {
	const X = [1000, 2000, 3000, 4000, 5000, 6000, 7000];
	const Y = [30, 60, 90, 120, 150, 180];
	const timing = (r: number, k: number) => 12 + r / 300 - k / 12;
	function calibration(name: string, shift: number): Calibration {
		return parseCalibration({
			schema: 'tanto.calibration/1',
			name,
			fuelModel: 'speed-density',
			items: [
				{
					id: 'spark.table',
					kind: 'map',
					x: { channel: 'rpm', points: X },
					y: { channel: 'map', points: Y },
					values: Y.map((k) => X.map((r) => timing(r, k) - shift))
				}
			]
		});
	}
	const shapes = pullShapes();
	const logged = (shift: number) =>
		drive({ sparkBase: (t) => timing(shapes['rpm']!(t), shapes['map']!(t)) - shift });
	const of = (log: ReturnType<typeof handMade>, calibrations: Calibration[], stated: number) =>
		screen(log, { vehicle: vehicleWith(), calibrations, stated });
	const [r0, r1] = [calibration('R0', 0), calibration('R1', 2)];

	it('passes when the stated revision explains the timing', () => {
		expect(outcomeOf(of(logged(2), [r0, r1], 1), 'log.revision').outcome).toBe('pass');
	});
	it('another revision that explains it better is a stop: not the file you think', () => {
		const f = findingOf(of(logged(0), [r0, r1], 1), 'log.revision')!;
		expect(f).toMatchObject({ severity: 'stop', unit: '°' });
		expect(f.title).toContain('R0 was in the car');
	});
	it('none that explains it is to fix', () => {
		expect(findingOf(of(logged(8), [r0, r1], 1), 'log.revision')?.severity).toBe('fix');
	});
	it('revisions that are equal in these tables can not be told apart', () => {
		const same = calibration('R1', 0);
		expect(outcomeOf(of(logged(0), [r0, same], 1), 'log.revision')).toMatchObject({
			outcome: 'not-checked',
			missing: 'a logged calibration id'
		});
	});
	it('0.4° between two revisions are too little to accuse anybody', () => {
		expect(findingOf(of(logged(0), [r0, calibration('R1', 0.4)], 1), 'log.revision')).toBeUndefined();
	});
	it('is not checked without a calibration, or without the channels', () => {
		expect(outcomeOf(report(drive()), 'log.revision').outcome).toBe('not-checked');
		expect(outcomeOf(of(drive(), [r0], 0), 'log.revision')).toMatchObject({
			outcome: 'not-checked',
			missing: 'sparkBase'
		});
	});
	it('believes a logged calibration id', () => {
		const named = (name: string) => {
			const log = logged(2);
			log.channels.push({
				...log.channels[0]!,
				id: 'calibrationId',
				texts: [name],
				values: new Float32Array(log.rows).fill(Number.NaN)
			});
			return of(log, [r0, r1], 1);
		};
		expect(outcomeOf(named('R1'), 'log.revision').outcome).toBe('pass');
		expect(findingOf(named('R0'), 'log.revision')?.severity).toBe('stop');
	});
});
