import { expect, it } from 'vitest';
import { DEFAULT_UNITS } from '$core/units/display';
import { FIELDS } from '$core/vehicle/fields';
import { documentText, fieldText, fieldUnit } from './field-units';

const field = (path: string) => FIELDS.find((f) => f.path === path)!;
const INCHES = { ...DEFAULT_UNITS, pressure: 'psi', temperature: '°F' } as const;

it('a pressure is written in psi and kept in kPa', () => {
	const rated = field('injectors.ratedPressureKpa');
	expect(fieldUnit(rated, INCHES)).toBe('psi');
	// 43.5 psi are 300 kPa (1 psi = 6.894757 kPa, NIST SP 811).
	expect(fieldText('300', rated, INCHES)).toBe('43.51');
	expect(documentText('43.5', rated, INCHES)).toBe('299.922');
	expect(documentText('43,5', rated, INCHES)).toBe('299.922');
});

it('each number of a list, the second of each pair', () => {
	expect(fieldText('76 100', field('baselines.coolantIdleC'), INCHES)).toBe('168.8 212');
	const boost = field('baselines.boostKpa');
	expect(fieldUnit(boost, INCHES)).toBe('rpm:psi');
	expect(fieldText('2500:140 4000:180', boost, INCHES)).toBe('2500:20.31 4000:26.11');
	expect(documentText('2500:20.31 4000: 26', boost, INCHES)).toBe('2500:140.033 4000: 179.264');
});

it('what is no number, has no such unit or a reader of kPa stays as it is', () => {
	expect(documentText('forty', field('injectors.ratedPressureKpa'), INCHES)).toBe('forty');
	expect(documentText('', field('injectors.ratedPressureKpa'), INCHES)).toBe('');
	expect(documentText('12:1.2', field('injectors.deadTimeMs'), INCHES)).toBe('12:1.2');
	expect(fieldText('300', field('injectors.ratedPressureKpa'), DEFAULT_UNITS)).toBe('300');
	expect(fieldUnit(field('massKg'), INCHES)).toBe('kg');
});

it('comes back as it was written, at every step of a gauge', () => {
	const rated = field('injectors.ratedPressureKpa');
	for (let tenths = 1; tenths < 1500; tenths++) {
		const written = String(tenths / 10);
		expect(fieldText(documentText(written, rated, INCHES), rated, INCHES)).toBe(written);
	}
});
