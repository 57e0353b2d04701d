import { FLAG, type FlagName } from './kinds.ts';
import { describe, expect, it } from 'vitest';
import { Frame } from '../../logfile/frame.ts';
import { profileOf } from '../../limits/profile.ts';
import { handMade, pullShapes, vehicleWith, type Shape } from '../../testing/hand-made.ts';
import { stretches, slope } from '../../stats/runs.ts';
import { segmentsOf } from './segments.ts';

function segments(shapes: Record<string, Shape>, seconds: number, vehicle = vehicleWith(), rate = 20) {
	return segmentsOf(new Frame(handMade(seconds, rate, shapes)), vehicle, profileOf());
}
const kinds = (s: ReturnType<typeof segments>, kind: FlagName) => s.list.filter((x) => x.kind === kind);

describe('segments', () => {
	it.each([5, 10, 20, 100])('finds one pull at %i Hz', (rate) => {
		const s = segments(pullShapes(), 30, vehicleWith(), rate);
		expect(kinds(s, 'pull')).toHaveLength(1);
		expect(s.pulls[0]!.fromS).toBeCloseTo(10, 0);
		expect(s.pulls[0]!.toS).toBeCloseTo(16, 0);
	});
	it('takes 90 % of the own top of a throttle that never reads 90', () => {
		const shapes = { ...pullShapes(), tps: (t: number) => (t >= 10 && t < 16 ? 82 : 10) };
		expect(kinds(segments(shapes, 30), 'pull')).toHaveLength(1);
	});
	it('the foot makes the pull: a throttle that the controller closes in it cuts it in no two, and is marked', () => {
		const flat = (t: number) => (t >= 10 && t < 16 ? 100 : 10);
		const shapes = {
			...pullShapes(),
			pedal: flat,
			tps: (t: number) => (t >= 12.5 && t < 13.5 ? 68 : flat(t))
		};
		const s = segments(shapes, 30);
		expect(kinds(s, 'pull')).toHaveLength(1);
		expect(s.pulls[0]!.toS - s.pulls[0]!.fromS).toBeGreaterThan(5.5);
		const limited = (t: number) => (s.flags[Math.round(t * 20)]! & FLAG.limited) !== 0;
		expect([limited(11), limited(13), limited(15)]).toEqual([false, true, false]);
		// A stock throttle that never opens beyond 82 % is as open as it gets.
		const stock = segments({ ...pullShapes(), pedal: flat, tps: (t: number) => flat(t) * 0.82 }, 30);
		expect(stock.flags.some((f) => f & FLAG.limited)).toBe(false);
		expect(kinds(stock, 'pull')).toHaveLength(1);
	});
	it('steady towing under boost is loaded but no pull', () => {
		const s = segments(
			{ rpm: () => 2800, map: () => 130, baro: () => 100, tps: (t) => (t < 1 ? 5 : 55) },
			20
		);
		expect(s.loaded.length).toBeGreaterThan(0);
		expect(s.pulls).toHaveLength(0);
	});
	it('splits a pull at the gear change and marks the shift', () => {
		const rpm: Shape = (t) =>
			t < 5
				? 2500
				: t < 9
					? 2500 + (t - 5) * 950
					: t < 9.3
						? 6300 - (t - 9) * 6000
						: t < 14
							? 4500 + (t - 9.3) * 420
							: 2500;
		const speed: Shape = (t) => (t < 9.15 ? rpm(t) / 60 : rpm(t) / 43);
		const tps: Shape = (t) => (t >= 5 && t < 14 ? (t > 9 && t < 9.3 ? 10 : 100) : 12);
		const s = segments({ rpm, speed, tps, map: (t) => (tps(t) > 50 ? 160 : 45), baro: () => 100 }, 20);
		expect(kinds(s, 'pull').map((p) => p.gear)).toEqual([1, 2]);
		expect(kinds(s, 'shift').length).toBeGreaterThan(0);
	});
	it('knows gears from the stated gearbox', () => {
		const box = { transmission: { gears: [3, 2, 1.5], finalDrive: 4, tyreCircumferenceM: 2 } };
		// Second gear: 1000/60/2 × 2 × 4 = 66.67 rpm per km/h.
		const s = segments(
			{ rpm: () => 3000, speed: () => 45, tps: () => 20, map: () => 50 },
			5,
			vehicleWith({}, box)
		);
		expect(s.gear![50]).toBe(2);
	});
	it('idle needs five seconds with the throttle closed', () => {
		const idle: Record<string, Shape> = {
			rpm: (t) => (t < 8 ? 850 : 2500),
			tps: (t) => (t < 8 ? 2 : 20),
			map: (t) => (t < 8 ? 35 : 50),
			speed: (t) => (t < 8 ? 0 : 40)
		};
		expect(kinds(segments(idle, 20), 'idle')).toHaveLength(1);
		const short = { ...idle, rpm: (t: number) => (t < 4 ? 850 : 2500), tps: (t: number) => (t < 4 ? 2 : 20) };
		expect(kinds(segments(short, 20), 'idle')).toHaveLength(0);
	});
	it('a launch is not loaded', () => {
		const s = segments(
			{
				rpm: () => 4000,
				tps: (t) => (t < 2 ? 3 : 100),
				map: (t) => (t < 2 ? 40 : 110),
				baro: () => 100,
				speed: () => 0
			},
			8
		);
		expect(kinds(s, 'launch').length).toBeGreaterThan(0);
		expect(s.loaded).toHaveLength(0);
	});
	it('flags ten seconds after the start, and 0.4 s after a tip-in', () => {
		const s = segments({ rpm: (t) => (t < 2 ? 0 : 900), tps: (t) => (t < 15 ? 2 : 40), map: () => 40 }, 20);
		const at = (t: number) => s.flags[Math.round(t * 20)]!;
		expect(at(5) & FLAG.start).toBeTruthy();
		expect(at(13) & FLAG.start).toBeFalsy();
		expect(at(15.2) & FLAG.transient).toBeTruthy();
		expect(at(15.8) & FLAG.transient).toBeFalsy();
	});
	it('takes the barometer from the standing engine when it has no channel', () => {
		const s = segments({ rpm: (t) => (t < 3 ? 0 : 900), map: (t) => (t < 3 ? 92 : 35), tps: () => 2 }, 10);
		expect(s.baroKpa).toBeCloseTo(92, 6);
		expect(s.baroFrom).toContain('standing');
	});
});

describe('runs', () => {
	it('counts 4 samples of 0.05 s as 0.2 s, and ends at a hole in the recording', () => {
		const timeS = Float64Array.of(0, 0.05, 0.1, 0.15, 3, 3.05);
		expect(stretches({ timeS, stepS: 0.05 }, 0.2, () => true)).toEqual([{ from: 0, to: 3 }]);
	});
	it('bridges interruptions up to the given length', () => {
		const axis = { timeS: Float64Array.from({ length: 20 }, (_, i) => i * 0.05), stepS: 0.05 };
		const holds = (i: number) => i !== 8 && i !== 9;
		expect(stretches(axis, 0.1, holds)).toHaveLength(2);
		expect(stretches(axis, 0.1, holds, 0.15)).toHaveLength(1);
	});
	it('asks only inside the runs that it is given', () => {
		const axis = { timeS: Float64Array.from({ length: 20 }, (_, i) => i * 0.05), stepS: 0.05 };
		const asked: number[] = [];
		const inside = [
			{ from: 2, to: 5 },
			{ from: 12, to: 12 }
		];
		const found = stretches(axis, 0, (i) => asked.push(i) > 0, 0, inside);
		expect(found).toEqual(inside);
		expect(asked).toEqual([2, 3, 4, 5, 12]);
	});
	it('the slope of a line is its slope at any rate', () => {
		for (const dt of [0.01, 0.05, 0.2]) {
			const t = Float64Array.from({ length: 50 }, (_, i) => i * dt);
			const v = Float32Array.from(t, (x) => 3 * x);
			expect(Array.from(slope(v, t, 0.1)).every((s) => Math.abs(s - 3) < 0.001)).toBe(true);
		}
	});
});
