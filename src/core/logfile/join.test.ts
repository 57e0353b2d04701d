import { describe, expect, it } from 'vitest';
import { Rng } from '../stats/rng.ts';
import { handMade } from '../testing/hand-made.ts';
import { joinLogs } from './join.ts';
import type { Log } from './log.ts';

/** Engine speed of a drive that never repeats itself: a sum of slow waves, by seed. */
function driveOf(seed: number): (t: number) => number {
	const rng = new Rng(seed);
	const waves = Array.from({ length: 14 }, () => ({
		size: 120 + 350 * rng.next(),
		per: 3 + 37 * rng.next(),
		at: 6.28 * rng.next()
	}));
	return (t) => 3200 + waves.reduce((s, w) => s + w.size * Math.sin((6.28 * t) / w.per + w.at), 0);
}
/** What another recorder writes of a drive: its clock shows 0 at `offset` of the first, and runs `rate` as fast. */
const recorded = (drive: (t: number) => number, offset: number, rate: number, seconds = 240): Log =>
	handMade(seconds, 10, {
		rpm: (t) => Math.round(drive(offset + t / rate) / 10) * 10,
		'lambda.ref': (t) => 0.85 + 0.01 * Math.sin(t)
	});

describe('a second recorder', () => {
	const drive = driveOf(3);
	const log = handMade(300, 20, { rpm: drive, 'lambda.b1': () => 0.9 });

	it('whose clock is 7.3 s late and 0.2 % fast is aligned within 50 ms', () => {
		const joined = joinLogs(log, recorded(drive, 7.3, 1.002));
		expect(Math.abs(joined.offsetS - 7.3)).toBeLessThan(0.05);
		expect(Math.abs(joined.rate - 1.002)).toBeLessThan(0.0003);
		expect(joined.correlation).toBeGreaterThan(0.97);
		// At the end of it as well: the rate is what carries that far.
		const last = joined.log.channels.find((c) => c.id === 'lambda.ref')!.timeS.at(-1)!;
		expect(Math.abs(last - (7.3 + 239.9 / 1.002))).toBeLessThan(0.05);
		expect(joined.offsetSe).toBeLessThan(0.05);
		expect(joined.channels).toEqual(['lambda.ref']);
	});
	it('that began before the log is aligned as well', () => {
		expect(joinLogs(log, recorded(drive, -12.5, 1, 200)).offsetS).toBeCloseTo(-12.5, 1);
	});
	it('of another drive is refused, though its values are alike', () => {
		expect(() => joinLogs(log, recorded(driveOf(4), 7.3, 1))).toThrow('not of one drive');
	});
	it('with nothing in common, or too short, is refused in words', () => {
		expect(() => joinLogs(log, handMade(100, 10, { oilTemp: () => 90 }))).toThrow('nothing to align them by');
		expect(() => joinLogs(log, recorded(drive, 7.3, 1, 40))).toThrow('less than 60 s');
	});
	it('joined by road speed brings no mixture, and is known more coarsely', () => {
		const speeds = handMade(300, 20, { speed: (t) => drive(t) / 30 });
		const other = handMade(200, 10, {
			speed: (t) => drive(20 + t) / 30,
			'lambda.ref': () => 0.8,
			oilTemp: () => 95
		});
		const joined = joinLogs(speeds, other);
		expect(joined.channels).toEqual(['oilTemp']);
		expect(joined.offsetSe).toBeGreaterThan(0.1);
	});
});
