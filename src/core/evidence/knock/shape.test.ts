/** Real or false by shape: staircases, blips, and what is treated as real because nobody can tell. */
import { describe, expect, it } from 'vitest';
import { profileOf } from '../../limits/profile.ts';
import { handMade, pullShapes, vehicleWith, type Shape } from '../../testing/hand-made.ts';
import { prepare } from '../prepare.ts';
import { upwardSteps } from './shape.ts';

const vehicle = vehicleWith();
/** Episodes of a log with this retard, two pulls 20 s apart. */
const episodes = (retard: Shape, more: Record<string, Shape> = {}) => {
	const [first, second] = [pullShapes(10), pullShapes(30)];
	const shapes = Object.fromEntries(
		Object.keys(first).map((id): [string, Shape] => [id, (t) => (t < 25 ? first[id]! : second[id]!)(t)])
	);
	return prepare(handMade(50, 50, { ...shapes, knockRetard: retard, ...more }), { vehicle }).knock!;
};
const steps = (values: number[], hz = 20) =>
	upwardSteps(
		Float32Array.from(values),
		Float64Array.from(values, (_, i) => i / hz),
		0,
		values.length - 1
	);

describe('upward steps', () => {
	it.each([
		['none', [0, 0, 0], 0],
		['one jump', [0, 2, 2, 2], 1],
		['a staircase of three', [0, 1, 1, 2, 2, 3, 3], 3],
		['a step down in between is still climbing', [0, 2, 2, 1.5, 1.5, 3, 3], 2],
		['a fall below half begins anew', [0, 2, 2, 0.5, 0.5, 2, 2], 1],
		['rises under half a degree are none', [0, 0.4, 0.4, 0.8, 0.8], 0]
	])('%s', (_, values, expected) => {
		expect(steps(values)).toBe(expected);
	});
	it('a ramp is a fine staircase, one step per half degree beyond its first moment', () => {
		expect(steps(Array.from({ length: 40 }, (_, i) => i * 0.1))).toBeGreaterThanOrEqual(3);
	});
	it('holes in the recording are no steps', () => {
		expect(steps([0, 2, Number.NaN, 2, 2])).toBe(1);
	});
});

describe('shapes', () => {
	it('climbing in steps until the lift is real', () => {
		const [e, ...more] = episodes((t) => (t > 12 && t < 16 ? Math.floor((t - 12) / 0.8) + 1 : 0));
		expect(more).toEqual([]);
		expect(e).toMatchObject({ shape: 'real', loaded: true, pull: 0 });
		expect(e!.because).toContain('steps up');
	});
	it('short ones back to zero, scattered over a pull, are blips', () => {
		const list = episodes((t) => (t > 10.5 && t < 15.8 && t % 0.9 < 0.1 ? 2 : 0));
		expect(list.length).toBeGreaterThanOrEqual(5);
		expect(new Set(list.map((e) => e.shape))).toEqual(new Set(['blips']));
	});
	it('four of them are too few to call it false', () => {
		const list = episodes((t) => (t > 10.5 && t < 14 && t % 0.9 < 0.1 ? 2 : 0));
		expect(list.length).toBeLessThan(5);
		expect(new Set(list.map((e) => e.shape))).toEqual(new Set(['unclear']));
	});
	it('blips that grow along the pull are none', () => {
		const list = episodes((t) => (t > 10.5 && t < 15.8 && t % 0.9 < 0.1 ? 1 + (t - 10.5) : 0));
		expect(list.every((e) => e.shape !== 'blips')).toBe(true);
	});
	it('in the same cell in two pulls, each time worse, is real', () => {
		const at = (t: number, from: number, deg: number) => (t >= from + 3 && t < from + 3.16 ? deg : 0);
		const list = episodes((t) => at(t, 10, 1.5) + at(t, 30, 3));
		expect(list.map((e) => e.shape)).toEqual(['real', 'real']);
		expect(list[0]!.because).toContain('in the same cell in 2 pulls, each time worse');
	});
	it('what the independent monitor hears as well is real, whatever its shape', () => {
		const blip: Shape = (t) => (t > 10.5 && t < 15.8 && t % 0.9 < 0.1 ? 2 : 0);
		const heard = episodes(blip, { knockMonitor: (t) => (blip(t) > 0 ? 90 : 0) });
		expect(new Set(heard.map((e) => e.shape))).toEqual(new Set(['real']));
	});
	it('without retard there are no episodes, without a channel nothing is known', () => {
		expect(episodes(() => 0)).toEqual([]);
		const { knockRetard: _, ...without } = pullShapes();
		expect(prepare(handMade(30, 20, without), { vehicle }).knock).toBeNull();
	});
});

describe('an episode', () => {
	it('peaks where the retard last rose to its highest, at that operating point', () => {
		const [e] = episodes((t) => (t >= 13 && t < 14 ? (t < 13.5 ? 2 : 4) : t >= 14 && t < 14.5 ? 3 : 0), {
			spark: () => 14
		});
		expect(e!.peakDeg).toBeCloseTo(4, 5);
		expect(e!.fromS).toBeCloseTo(13, 1);
		expect(e!.rpm).toBeGreaterThan(4700);
		expect(e!.rpm).toBeLessThan(4950);
		expect(e).toMatchObject({ mapKpa: 170, sparkDeg: 14 });
		expect(e!.rises.map((r) => r.deg)).toEqual([2, 4]);
	});
	it('names the cylinder that pulled most', () => {
		const [e] = episodes(() => 0, {
			'knockRetard.cyl1': (t) => (t >= 13 && t < 14 ? 1 : 0),
			'knockRetard.cyl3': (t) => (t >= 13 && t < 14 ? 3 : 0)
		});
		expect(e).toMatchObject({ cylinder: 3 });
		expect(e!.peakDeg).toBeCloseTo(3, 5);
	});
	it('interrupted for less than 0.15 s is one, for longer two', () => {
		const gap = (s: number) => episodes((t) => (t >= 13 && t < 14 && !(t >= 13.4 && t < 13.4 + s) ? 2 : 0));
		expect(gap(0.1)).toHaveLength(1);
		expect(gap(0.4)).toHaveLength(2);
	});
	it('under the threshold is none', () => {
		const { knockEpisodeDeg } = profileOf();
		expect(episodes((t) => (t >= 13 && t < 14 ? knockEpisodeDeg - 0.1 : 0))).toEqual([]);
	});
});
