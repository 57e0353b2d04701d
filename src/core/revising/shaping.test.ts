import { describe, expect, it } from 'vitest';
import { blended, filled, smoothed } from './shaping.ts';

const x = [1000, 2000, 4000];
const y = [20, 40, 100];
const all = { c0: 0, c1: 2, r0: 0, r1: 2 };

describe('filling between corners', () => {
	it('follows the axes, not the number of cells', () => {
		const out = filled(
			[
				[0, 9, 30],
				[9, 9, 9],
				[80, 9, 110]
			],
			x,
			y,
			all
		);
		// 2000 lies a third of the way from 1000 to 4000, 40 a quarter of the way from 20 to 100.
		expect(out[0]).toEqual([0, 10, 30]);
		expect(out[1]![0]).toBeCloseTo(20, 9);
		expect(out[1]![1]).toBeCloseTo(30, 9);
		expect(out[2]![2]).toBe(110);
	});
	it('fills a single row between its ends and leaves the rest alone', () => {
		const out = filled(
			[
				[10, 0, 40],
				[1, 2, 3]
			],
			x,
			[1, 2],
			{ c0: 0, c1: 2, r0: 0, r1: 0 }
		);
		expect(out).toEqual([
			[10, 20, 40],
			[1, 2, 3]
		]);
	});
});

describe('smoothing within a tolerance', () => {
	const lump = [
		[50, 50, 50],
		[50, 60, 50],
		[50, 50, 50]
	];
	it('takes a lump down, but by no more than the tolerance', () => {
		const out = smoothed(lump, { c0: 1, c1: 1, r0: 1, r1: 1 }, 5);
		expect(out[1]![1]).toBeCloseTo(57, 9);
		expect(smoothed(lump, { c0: 1, c1: 1, r0: 1, r1: 1 }, 50)[1]![1]).toBeLessThan(52);
		expect(out[0]).toEqual([50, 50, 50]);
	});
	it('leaves what is even as it is', () => {
		const even = [
			[5, 5],
			[5, 5]
		];
		expect(smoothed(even, { c0: 0, c1: 1, r0: 0, r1: 1 }, 10)).toEqual(even);
	});
});

describe('blending one cell around', () => {
	it('takes neighbours half the way of the nearest cell of the block', () => {
		const before = [
			[50, 50, 50],
			[50, 50, 50],
			[50, 50, 50]
		];
		const now = [
			[50, 50, 50],
			[50, 55, 50],
			[50, 50, 50]
		];
		const out = blended(now, before, { c0: 1, c1: 1, r0: 1, r1: 1 });
		expect(out[1]![1]).toBe(55);
		expect(out[0]![0]).toBeCloseTo(52.5, 9);
		expect(out[1]![2]).toBeCloseTo(52.5, 9);
	});
});
