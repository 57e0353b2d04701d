/** Which way a knock channel counts: what base and final timing say, and what is taken without them. */
import { describe, expect, it } from 'vitest';
import { oriented, signByTiming } from './knock-sign.ts';

const N = 400;
const timeS = Float64Array.from({ length: N }, (_, i) => i / 20);
/** Base timing that moves, with bumps of the knock system at 5 and 12 s. */
const base = Float32Array.from(timeS, (t) => 20 + 3 * Math.sin(t / 3));
const bump = Float32Array.from(timeS, (t) => (t > 5 && t < 6 ? 3 : t > 12 && t < 13 ? 2 : 0));
const column = (values: Float32Array) => ({ timeS, values });
const pulled = column(base.map((v, i) => v - bump[i]!));
const added = column(base.map((v, i) => v + bump[i]!));
const sign = (values: Float32Array, final: typeof pulled) => signByTiming(values, timeS, column(base), final);

describe('signByTiming', () => {
	it.each([
		['positive numbers, timing below base: positive is pulled', bump, pulled, 1],
		['negative numbers, timing below base: negative is pulled', bump.map((v) => -v), pulled, -1],
		['positive numbers, timing above base: positive is added', bump, added, -1],
		['negative numbers, timing above base: negative is added', bump.map((v) => -v), added, 1]
	] as const)('%s', (_, values, final, expected) => {
		expect(sign(values, final)).toBe(expected);
	});
	it('says nothing where the channel does not go along with them, or moved hardly ever', () => {
		expect(sign(bump, column(base))).toBe(0);
		expect(
			sign(
				bump.map((v) => 3 * v),
				pulled
			)
		).toBe(0);
		expect(sign(new Float32Array(N), pulled)).toBe(0);
		expect(signByTiming(bump, timeS, column(base), undefined)).toBe(0);
	});
	it('isn’t misled by a correction for cold air that stands all the time', () => {
		expect(sign(bump, column(pulled.values.map((v) => v + 2)))).toBe(1);
	});
});

describe('oriented', () => {
	const bounds = (v: Float32Array) => ({ min: Math.min(...v), max: Math.max(...v) });
	it('timing that was only added is no retard', () => {
		const r = oriented(bump, -1, bounds(bump));
		expect(Math.max(...r.retard)).toBe(0);
		expect(Math.max(...r.advance!)).toBe(3);
		expect(r.note).toContain('pulled none');
	});
	it('without base and final timing: never above zero is retard, both signs are pulled below and added above', () => {
		const negative = bump.map((v) => -v);
		expect(Math.max(...oriented(negative, 0, bounds(negative)).retard)).toBe(3);
		const both = bump.map((v, i) => (i < 200 ? -v : v));
		const r = oriented(both, 0, bounds(both));
		expect([Math.max(...r.retard), Math.max(...r.advance!)]).toEqual([3, 2]);
	});
	it('leaves a channel alone that counts as ours do', () => {
		expect(oriented(bump, 0, bounds(bump)).retard).toBe(bump);
	});
});
