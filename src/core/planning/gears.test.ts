import { describe, expect, it } from 'vitest';
import { parseVehicle, type Vehicle } from '../vehicle/document.ts';
import { adviseGears, fullThrottleGears, roadSpeedKmh } from './gears.ts';

function car(gears: number[], more: object = { finalDrive: 4, tyreCircumferenceM: 2 }): Vehicle {
	return parseVehicle({
		schema: 'tanto.vehicle/1',
		name: 'x',
		engine: { cylinders: 4, aspiration: 'na', revLimitRpm: 7000 },
		transmission: { gears, ...more }
	});
}
const SIX = [3.6, 2.1, 1.45, 1.1, 0.9, 0.75];

describe('gears for full throttle', () => {
	it('road speed: 6000 rpm through 1:1 and 4:1 turns a 2 m tyre 25 times a second: 50 m/s', () => {
		expect(roadSpeedKmh(6000, 1, 4, 2)).toBeCloseTo(180, 10);
		expect(roadSpeedKmh(6000, 2, 4, 2)).toBeCloseTo(90, 10);
	});
	it('two gears of a four-speed box, three of six, three of eight (common practice)', () => {
		expect([4, 5, 6, 8].map(fullThrottleGears)).toEqual([2, 2, 3, 3]);
	});
	it('without a cap third gear is the one, and its neighbours go with it, never first', () => {
		const a = adviseGears(car(SIX), null);
		expect(a.recommended).toBe(3);
		expect(a.pulls).toEqual([2, 3, 4]);
		expect(a.lines[2]!.limiterKmh).toBeCloseTo(((7000 / 60) * 2 * 3.6) / (1.45 * 4), 6);
		expect(a.remark).toBe('');
	});
	it('under a cap that third gear breaks, second is named and said to be short', () => {
		const a = adviseGears(car(SIX), 105);
		expect(a.recommended).toBe(2);
		expect(a.remark).toContain('Gear 3 is too fast');
		expect(a.lines[2]!.cappedRpm).toBeCloseTo((7000 * 105) / a.lines[2]!.limiterKmh!, 6);
	});
	it('under a cap that no gear but first respects, none is advised', () => {
		const a = adviseGears(car(SIX), 60);
		expect(a.pulls).toEqual([]);
		expect(a.remark).toContain('dyno');
	});
	it('without final drive gears are advised and their speeds not made up', () => {
		const a = adviseGears(car(SIX, {}), 100);
		expect(a.recommended).toBe(3);
		expect(a.lines.every((l) => l.limiterKmh === null)).toBe(true);
		expect(a.remark).toContain('not known');
	});
	it('without a gearbox nothing is advised', () => {
		expect(adviseGears(car([]), null)).toMatchObject({ pulls: [], recommended: null });
	});
});
