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
