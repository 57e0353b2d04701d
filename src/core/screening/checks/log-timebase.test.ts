import { drive, reportOn } from '../../testing/check-cases.ts';
import { describe, expect, it } from 'vitest';
import { findingOf, handMade, outcomeOf, pullShapes } from '../../testing/hand-made.ts';

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
		expect(outcomeOf(reportOn(drive()), 'log.timebase').outcome).toBe('pass');
	});
	it('a gap elsewhere is to watch, one under load to fix, 0.4 s are none', () => {
		expect(findingOf(reportOn(holed(25, 26)), 'log.timebase')).toMatchObject({
			severity: 'watch',
			unit: 's'
		});
		expect(findingOf(reportOn(holed(12, 13)), 'log.timebase')?.severity).toBe('fix');
		expect(findingOf(reportOn(holed(25, 25.4)), 'log.timebase')).toBeUndefined();
	});
	it.each([
		[4, 'fix'],
		[8, 'watch'],
		[10, undefined]
	])('%i Hz in a pull is %s', (rate, severity) => {
		expect(findingOf(reportOn(drive({}, 40, rate)), 'log.timebase')?.severity).toBe(severity);
	});
	it('a slow log without a pull is not blamed for its rate', () => {
		expect(findingOf(reportOn(handMade(60, 4, pullShapes(1000))), 'log.timebase')).toBeUndefined();
	});
	it('a clean restart is a note, one in the middle of full load to fix', () => {
		const clean = drive();
		clean.timeFaults.restartsS.push(30);
		expect(findingOf(reportOn(clean), 'log.timebase')?.severity).toBe('note');
		const loaded = drive();
		loaded.timeFaults.restartsS.push(13);
		expect(findingOf(reportOn(loaded), 'log.timebase')?.severity).toBe('fix');
	});
});
