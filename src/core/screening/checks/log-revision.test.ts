import { drive, reportOn } from '../../testing/check-cases.ts';
import { describe, expect, it } from 'vitest';
import { type Calibration } from '../../calibration/document.ts';
import {
	findingOf,
	handMade,
	outcomeOf,
	pullShapes,
	vehicleWith,
	calibrationWith
} from '../../testing/hand-made.ts';
import { screen } from '../screen.ts';

describe('log.revision', () => {
	const X = [1000, 2000, 3000, 4000, 5000, 6000, 7000];
	const Y = [30, 60, 90, 120, 150, 180];
	const timing = (r: number, k: number) => 12 + r / 300 - k / 12;
	function calibration(name: string, shift: number): Calibration {
		return calibrationWith(
			[
				{
					id: 'spark.table',
					kind: 'map',
					x: { channel: 'rpm', points: X },
					y: { channel: 'map', points: Y },
					values: Y.map((k) => X.map((r) => timing(r, k) - shift))
				}
			],
			{ name }
		);
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
		expect(f.title).toBe('Wrong revision in the car: R0');
	});
	it('none that explains it is to fix', () => {
		expect(findingOf(of(logged(8), [r0, r1], 1), 'log.revision')?.severity).toBe('fix');
	});
	it('one that is another at full load only is found by the place, however well it fits elsewhere', () => {
		const at = (t: number) => timing(shapes['rpm']!(t), shapes['map']!(t));
		// Half a minute of light driving, and a pull of six seconds with 5° more than the file has.
		const full = (t: number) => at(t) + (shapes['map']!(t) > 120 ? 5 : 0);
		const f = findingOf(of(drive({ sparkBase: full }), [r0], 0), 'log.revision')!;
		expect(f).toMatchObject({ severity: 'fix', unit: '°' });
		expect(f.value).toBeCloseTo(5, 0);
		expect(f.region!.map![0]).toBeGreaterThan(100);
	});
	it('half a degree there is what any controller does', () => {
		const at = (t: number) => timing(shapes['rpm']!(t), shapes['map']!(t));
		const near = (t: number) => at(t) + (shapes['map']!(t) > 120 ? 0.5 : 0);
		expect(outcomeOf(of(drive({ sparkBase: near }), [r0], 0), 'log.revision').outcome).toBe('pass');
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
		expect(outcomeOf(reportOn(drive()), 'log.revision').outcome).toBe('not-checked');
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
