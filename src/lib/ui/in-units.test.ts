import { describe, expect, it } from 'vitest';
import { marked, markedBy, plain } from '$core/format.ts';
import { DEFAULT_UNITS, shown, type UnitChoice } from '$core/units/display.ts';
import { inUnits } from './in-units.ts';

const imperial: UnitChoice = {
	mixture: 'afr-petrol',
	pressure: 'psi',
	temperature: '°F',
	speed: 'mph',
	power: 'hp',
	gauge: false
};

describe('a sentence with quantities', () => {
	const text = `Boost ${markedBy(34.5, 'kPa')} short: ${marked(181.3, 'kPa')} at ${marked(95, '°C')}, ${markedBy(10, '°C')} more, ${marked(0.853, 'λ', 3)}, ${marked(100, 'km/h')}, off by ${markedBy(-6.9, 'kPa', 1, true)}`;
	it('is plain in canonical units', () => {
		expect(plain(text)).toBe(
			'Boost 35 kPa short: 181 kPa at 95 °C, 10 °C more, λ 0.853, 100 km/h, off by −6.9 kPa'
		);
		expect(inUnits(text, DEFAULT_UNITS)).toBe(plain(text));
		expect(plain('nothing in it')).toBe('nothing in it');
	});
	it('is read in units of choice, a difference without the offset of its scale', () => {
		// NIST SP 811: 1 psi = 6.894757 kPa; °F = 1.8 °C + 32; 1 mile = 1.609344 km. 0.853 × 14.7 = 12.54.
		expect(inUnits(text, imperial)).toBe(
			'Boost 5.0 psi short: 26.3 psi at 203 °F, 18 °F more, 12.5 AFR, 62 mph, off by −1.0 psi'
		);
	});
	it('gives pressure of the manifold as a gauge shows it, and leaves the barometer and differences alone', () => {
		const boost = `${marked(181.3, 'kPa abs')}, ${markedBy(34.5, 'kPa')} short; the barometer says ${marked(100, 'kPa')}`;
		expect(plain(boost)).toBe('181 kPa, 35 kPa short; the barometer says 100 kPa');
		expect(inUnits(boost, DEFAULT_UNITS)).toBe(plain(boost));
		// Standard atmosphere 101.325 kPa (ISO 2533): (181.3 − 101.325) / 6.894757 = 11.6.
		expect(inUnits(boost, { ...imperial, gauge: true })).toBe(
			'11.6 psi gauge, 5.0 psi short; the barometer says 14.5 psi'
		);
		expect(inUnits(marked(40, 'kPa abs'), { ...DEFAULT_UNITS, gauge: true })).toBe('-61 kPa gauge');
	});
});

describe('power, torque and heights', () => {
	it.each([
		[74.57, 'kW', 100, 'hp'],
		[135.5818, 'Nm', 100, 'lb·ft'],
		[304.8, 'm', 1000, 'ft']
	])('%f %s are %f %s', (value, unit, expected, name) => {
		// NIST SP 811, appendix B.
		const s = shown(value, unit, imperial);
		expect(s.value).toBeCloseTo(expected, 2);
		expect(s.unit).toBe(name);
		expect(shown(value, unit, DEFAULT_UNITS)).toMatchObject({ value, unit });
	});
});
