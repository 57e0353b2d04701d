import { describe, expect, it } from 'vitest';
import { densityOfBlend, stoichOfBlend } from './fuel.ts';
import { conversionOf, convert, parseUnit, unitById } from './units.ts';

describe('conversions', () => {
	// Published or exact: international pound and yard agreement, standard gravity, conventional inch of mercury.
	it.each([
		[1, 'psi', 'kPa', 6.894757],
		[14.695949, 'psi', 'kPa', 101.325],
		[29.9213, 'inHg', 'kPa', 101.325],
		[1, 'bar', 'kPa', 100],
		[60, 'mph', 'km/h', 96.56064],
		[212, '°F', '°C', 100],
		[-40, '°F', '°C', -40],
		[1, 'lb/h', 'g/s', 0.1259979],
		[302, 'lb/h', 'g/s', 38.0514]
	])('%f %s is %f %s', (v, from, to, expected) => {
		expect(convert(v, from, to)).toBeCloseTo(expected, 3);
	});

	it('refuses to convert a pressure into a temperature', () => {
		expect(() => convert(1, 'psi', '°C')).toThrow('measure different things');
	});

	it('divides AFR by the stoich of the gauge, not of the fuel', () => {
		const { scale } = conversionOf(unitById('AFR'), 14.7, 100);
		expect(12.5 * scale).toBeCloseTo(0.8503, 4);
	});

	it('adds the barometer to gauge pressure', () => {
		const c = conversionOf(unitById('psi gauge'), 14.7, 99);
		expect(7 * c.scale + c.offset).toBeCloseTo(147.263, 3);
	});
});

describe('parseUnit', () => {
	it.each([
		['deg C', '°C'],
		['°F', '°F'],
		['PSIg', 'psi gauge'],
		['kPa', 'kPa'],
		['lambda', 'λ'],
		['A/F', 'AFR'],
		['µs', 'µs'],
		['ms', 'ms']
	])('%s is %s', (text, id) => {
		expect(parseUnit(text)?.id).toBe(id);
	});
	it('knows no unit called furlong', () => {
		expect(parseUnit('furlong')).toBeNull();
	});
});

describe('stoichiometry', () => {
	// Handbook values of the pure fuels; blends mixed by mass.
	it('is 14.7 for petrol and 9.0 for ethanol', () => {
		expect(stoichOfBlend(0)).toBeCloseTo(14.7, 6);
		expect(stoichOfBlend(100)).toBeCloseTo(9.0, 6);
	});
	it('mixes 85 % ethanol by mass to 9.81', () => {
		// By hand: 0.85 × 0.789 = 0.67065 kg ethanol, 0.15 × 0.745 = 0.11175 kg petrol per litre;
		// (0.67065 × 9 + 0.11175 × 14.7) / 0.7824 = 9.8141.
		expect(stoichOfBlend(85)).toBeCloseTo(9.8141, 3);
	});
	it('holds the content inside 0 to 100 %', () => {
		expect(stoichOfBlend(120)).toBe(stoichOfBlend(100));
		expect(densityOfBlend(100)).toBeCloseTo(0.789, 6);
	});
});
