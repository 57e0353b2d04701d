import { describe, expect, it } from 'vitest';
import type { MapItem } from '../calibration/document.ts';
import { vehicleWith } from '../testing/hand-made.ts';
import { placeOf, placesIn } from './places.ts';

const turbo = vehicleWith({ aspiration: 'turbo', idleRpm: 800, revLimitRpm: 7000 });
const own = vehicleWith({ aspiration: 'na', idleRpm: 800, revLimitRpm: 7000 });

describe('places', () => {
	it('are what a tuner would call them', () => {
		const at = (rpm: number, kpa: number, v = turbo) => placeOf(rpm, kpa, v, 100);
		expect([
			at(850, 35),
			at(2500, 45),
			at(3000, 80),
			at(3000, 110),
			at(2800, 160),
			at(4500, 180),
			at(6500, 180)
		]).toEqual(['idle', 'cruise', 'part', 'onset', 'low', 'middle', 'top']);
		// Without a charger there is no onset: full throttle begins at the air outside.
		expect(at(6500, 98, own)).toBe('top');
		expect(at(2000, 92, own)).toBe('low');
	});
	it('are found on axes in any unit and either way round, and nowhere on others', () => {
		const map = (x: object, y: object): MapItem =>
			({
				id: 'fuel.table',
				kind: 'map',
				x: { points: [], ...x },
				y: { points: [], ...y },
				values: []
			}) as unknown as MapItem;
		// 14.5 psi over the barometer is 200 kPa absolute.
		expect(
			placesIn(map({ channel: 'rpm' }, { channel: 'boost', unit: 'psi' }), turbo, 100)!({ x: 6500, y: 14.5 })
		).toBe('top');
		expect(
			placesIn(map({ channel: 'map', unit: 'kPa' }, { channel: 'rpm' }), turbo, 100)!({ x: 45, y: 2500 })
		).toBe('cruise');
		expect(placesIn(map({ channel: 'gear' }, { channel: 'pedal' }), turbo, 100)).toBeNull();
	});
});
