import { describe, expect, it } from 'vitest';
import { rpmBins } from './rpm-bins.ts';

describe('samples of a pull by engine speed', () => {
	const rpm = Float32Array.of(900, 1010, 1240, 1260, 1490, 1520, 3000);
	const bins = rpmBins(rpm, { from: 1, to: 5 }, 250);
	it('bins from where the pull begins to where it ends', () => {
		expect(bins.lows).toEqual([1000, 1250, 1500]);
	});
	it('gives means and highest values, null where nothing was recorded', () => {
		const v = Float32Array.of(99, 1, 3, 5, Number.NaN, Number.NaN, 99);
		expect(bins.mean(v)).toEqual([2, 5, null]);
		expect(bins.highest(v)).toEqual([3, 5, null]);
	});
});
