import { describe, expect, it } from 'vitest';
import { type Calibration } from '../calibration/document.ts';
import { prepare } from '../evidence/prepare.ts';
import { parseGoal } from '../fuelling/goal.ts';
import { screenPrepared } from '../screening/screen.ts';
import { handMade, vehicleWith, calibrationWith } from '../testing/hand-made.ts';
import { shiftsOf } from './shifts.ts';

/** Twice through two gears at full throttle: out of first at `first` rpm, out of second at `second`, then off the throttle. */
function drive(first: number, second: number) {
	const at = (t: number) => t % 20;
	const gear = (t: number) => (at(t) < 6 ? 1 : at(t) < 12 ? 2 : 3);
	const ramp = (t: number, from: number, low: number, high: number, seconds: number) =>
		low + ((t - from) / seconds) * (high - low);
	const rpm = (t: number) => {
		const s = at(t);
		return s < 6
			? ramp(s, 0, 2500, first, 6)
			: s < 12
				? ramp(s, 6, first * 0.62, second, 6)
				: s < 15
					? ramp(s, 12, second * 0.7, second * 0.75, 3)
					: 2500;
	};
	return handMade(60, 20, {
		rpm,
		gear,
		map: (t) => (at(t) < 15 ? 98 : 40),
		baro: () => 100,
		tps: (t) => (at(t) < 15 ? 100 : 10),
		pedal: (t) => (at(t) < 15 ? 100 : 10),
		ect: () => 90
	});
}
const calibration = (values = [6000, 6000]): Calibration =>
	calibrationWith([{ id: 'shift.rpm', kind: 'curve', x: { channel: 'gear', points: [1, 2] }, values }]);
function shifts(
	got: [number, number],
	wanted: [number, number][],
	{ c = calibration(), vehicle = vehicleWith({ revLimitRpm: 7000, aspiration: 'na' }) } = {}
) {
	const input = prepare(drive(...got), { vehicle, calibrations: [c] });
	return shiftsOf({
		calibration: c,
		logs: [{ input, report: screenPrepared(input) }],
		vehicle,
		goal: parseGoal({ schema: 'tanto.goal/1', shiftRpm: wanted })
	});
}
const cells = (a: ReturnType<typeof shifts>) =>
	a.changes.flatMap((c) => c.cells.map((x) => [x.x, x.from, x.to]));

describe('full-throttle shifts', () => {
	it('new = old + (wanted − got)', () => {
		// At 20 Hz the last sample in first gear is at 2500 + 3700 × 5.95 / 6 = 6169 rpm: 6000 + (6400 − 6169).
		const a = shifts([6200, 6200], [[1, 6400]]);
		expect(cells(a)).toEqual([[1, 6000, 6231]]);
		expect(a.says[0]).toContain('command 6000 → 6231');
	});
	it('by at most 300 rpm a revision', () => {
		const [[, , to] = []] = cells(shifts([5800, 6200], [[1, 6700]]));
		expect(to).toBe(6300);
	});
	it('never so that the shift comes within 150 rpm of the limiter', () => {
		// 400 rpm behind its command: 6850 − 400 is the most.
		const [[, , to] = []] = cells(shifts([6400, 6200], [[1, 6840]]));
		expect(to).toBeLessThanOrEqual(6460);
		const over = shifts([6200, 6200], [[1, 6950]]);
		expect(over.changes).toEqual([]);
		expect(over.says[0]).toContain('6850 are the most under the rev limit');
	});
	it('leaves alone what is as wanted, and a gear that was not seen twice', () => {
		const a = shifts(
			[6200, 6200],
			[
				[1, 6210],
				[4, 6400]
			]
		);
		expect(a.changes).toEqual([]);
		expect(a.says[0]).toContain('as wanted');
		expect(a.says[1]).toContain('0 full-throttle shifts seen; 2 are needed');
	});
	it('proposes nothing for a gearbox that no command reaches', () => {
		const vehicle = vehicleWith(
			{ revLimitRpm: 7000, aspiration: 'na' },
			{ controller: { locked: ['gearbox'] } }
		);
		expect(shifts([6200, 6200], [[1, 6400]], { vehicle })).toEqual({
			changes: [],
			says: [expect.stringContaining('locked')]
		});
	});
});
