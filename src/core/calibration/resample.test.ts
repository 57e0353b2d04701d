import { describe, expect, it } from 'vitest';
import { Surface } from './grid.ts';
import type { CurveItem, MapItem } from './document.ts';
import { inChannelsOf, rescaledChannel, resampled, sameAxis, surfaceChange } from './resample.ts';

const table: MapItem = {
	id: 'fuel.table',
	kind: 'map',
	unit: '%',
	decimals: 2,
	x: { channel: 'rpm', unit: 'rpm', points: [1000, 2000, 4000] },
	y: { channel: 'map', unit: 'kPa', points: [40, 100, 180] },
	values: [
		[30, 40, 50],
		[60, 80, 90],
		[70, 95, 110]
	]
};
const curve: CurveItem = {
	id: 'maf.curve',
	kind: 'curve',
	unit: 'g/s',
	x: { channel: 'mafFrequency', points: [1000, 3000] },
	values: [10, 50]
};
const x = (...points: number[]) => ({ ...sameAxis(table.x), points });

describe('a table on other axes', () => {
	it('added points lie on the surface: nothing changes anywhere', () => {
		const axis = x(1000, 1500, 2000, 3000, 4000);
		const out = resampled(table, axis, null);
		expect(out.values[0]).toEqual([30, 35, 40, 45, 50]);
		expect(out.values[2]).toEqual([70, 82.5, 95, 102.5, 110]);
		expect(out.y).toEqual(table.y);
		expect(surfaceChange(table, out, axis, null)).toMatchObject({ most: 0, beyond: 0, lost: 0 });
	});
	it('a point taken away: the greatest change stands there, and is found', () => {
		const axis = x(1000, 4000);
		const out = resampled(table, axis, null);
		// At 2000 rpm a third of the way: 70 + (110 − 70) / 3 = 83.3 instead of 95.
		const change = surfaceChange(table, out, axis, null);
		expect(change).toMatchObject({ x: 2000, y: 180 });
		expect(change.most).toBeCloseTo(-35 / 3, 9);
		expect(change.mostPct).toBeCloseTo(-3500 / 285, 9);
	});
	it('no place of a fine raster changes by more than what is stated', () => {
		const axis = x(900, 1700, 2600, 4000);
		const up = { ...sameAxis(table.y), points: [40, 120, 200] };
		const out = resampled(table, axis, up);
		const change = surfaceChange(table, out, axis, up);
		const a = new Surface(table.x.points, table.y.points, table.values);
		const b = new Surface(out.x.points, out.y.points, out.values);
		let most = 0;
		for (let rpm = 1000; rpm <= 4000; rpm += 37)
			for (let kpa = 40; kpa <= 180; kpa += 3.7)
				most = Math.max(most, Math.abs(b.at(rpm, kpa) - a.at(rpm, kpa)));
		expect(Math.abs(change.most)).toBeGreaterThanOrEqual(most);
		expect(Math.abs(change.most)).toBeLessThan(most * 1.2);
		expect(change.beyond).toBe(2);
	});
	it('beyond the old ends the edge is held; a shorter axis says how much it no longer reaches', () => {
		const axis = x(2000, 5000);
		const out = resampled(table, axis, null);
		expect(out.values[1]).toEqual([80, 90]);
		const change = surfaceChange(table, out, axis, null);
		expect(change.beyond).toBe(1);
		expect(change.lost).toBeCloseTo(1 / 3, 9);
		expect(change).toMatchObject({ x: 1000, y: 180, most: 25 });
	});
	it('pressure becomes a ratio to the barometer and back: the same surface', () => {
		const ratio = rescaledChannel(table.y, 100)!;
		expect(ratio.points).toEqual([0.4, 1, 1.8]);
		const out = resampled(table, sameAxis(table.x), ratio);
		expect(out.y).toMatchObject({ channel: 'pressureRatio', points: [0.4, 1, 1.8] });
		expect(out.y.unit).toBeUndefined();
		expect(out.values).toEqual(table.values);
		expect(surfaceChange(table, out, sameAxis(table.x), ratio).most).toBe(0);
		const back = resampled(out, sameAxis(out.x), rescaledChannel(out.y, 100));
		expect(back).toEqual(table);
		expect(rescaledChannel(table.x, 100)).toBeNull();
	});
	it('compares pressure with ratio at the standard atmosphere', () => {
		const ratio = resampled(table, sameAxis(table.x), rescaledChannel(table.y, 101.325));
		const there = inChannelsOf(ratio, table);
		expect(there.y.channel).toBe('map');
		there.y.points.forEach((p, i) => expect(p).toBeCloseTo(table.y.points[i]!, 2));
		expect(inChannelsOf(table, table)).toBe(table);
	});
	it('a curve has one axis', () => {
		const axis = { ...sameAxis(curve.x), points: [1000, 2000, 3000] };
		expect(resampled(curve, axis, null).values).toEqual([10, 30, 50]);
		expect(surfaceChange(curve, resampled(curve, axis, null), axis, null).most).toBe(0);
	});
	it('refuses axes that fall, repeat or are too short, by name', () => {
		expect(() => resampled(table, x(2000, 1000), null)).toThrow(
			'fuel.table: points of the x axis have to rise'
		);
		expect(() => resampled(table, x(1000, 1000), null)).toThrow('have to rise');
		expect(() => resampled(table, x(1000), null)).toThrow('at least two points');
		expect(() => resampled(table, x(1000, 2000), { ...sameAxis(table.y), points: [3, 2] })).toThrow(
			'the y axis'
		);
	});
});
