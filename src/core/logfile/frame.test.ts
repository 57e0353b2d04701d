import { describe, expect, it } from 'vitest';
import { along } from '../calibration/along.ts';
import { handMade, calibrationWith } from '../testing/hand-made.ts';
import { Frame } from './frame.ts';

const frame = new Frame(
	handMade(20, 20, {
		rpm: (t) => 1000 + 250 * t,
		map: (t) => 40 + 3 * t,
		ect: (t) => (t > 5 && t < 6 ? Number.NaN : 80 + t)
	})
);
const spark = calibrationWith([
	{
		id: 'spark.table',
		kind: 'map',
		x: { channel: 'rpm', unit: 'rpm', points: [1000, 3000, 6000] },
		y: { channel: 'map', unit: 'kPa', points: [40, 100] },
		values: [
			[20, 28, 34],
			[10, 18, 25]
		]
	}
]);

describe('a frame at some samples only', () => {
	it('reads the channels and a table as the whole frame does there', () => {
		const samples = Int32Array.of(0, 7, 8, 150, 399);
		const some = frame.at(samples);
		expect(some.length).toBe(5);
		expect(some.get('baro')).toBeNull();
		const whole = along(frame, spark, 'spark.table', 100)!;
		const there = along(some, spark, 'spark.table', 100)!;
		expect(Array.from(there)).toEqual(Array.from(samples, (i) => whole[i]));
		expect(Array.from(some.get('rpm')!)).toEqual(Array.from(samples, (i) => frame.get('rpm')![i]));
	});
});

describe('bounds on the frame', () => {
	it('are those of the held column: a gap longer than three samples stays missing', () => {
		const { min, max, missing } = frame.bounds('ect')!;
		expect(min).toBe(80);
		expect(max).toBeCloseTo(99.95, 4);
		// 19 of 400 samples are NaN; the first three are held from the sample before.
		expect(missing).toBeCloseTo(16 / 400, 10);
		expect(frame.bounds('baro')).toBeNull();
	});
	it('and the whole is all samples, or nothing of an empty log', () => {
		expect(frame.whole).toEqual([{ from: 0, to: 399 }]);
		expect(new Frame(handMade(0, 20, { rpm: () => 0 })).whole).toEqual([]);
	});
});
