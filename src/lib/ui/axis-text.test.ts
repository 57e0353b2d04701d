import { describe, expect, it } from 'vitest';
import { DEFAULT_UNITS } from '$core/units/display';
import { axisFor, valueFor } from './axis-text';

const psi = { ...DEFAULT_UNITS, pressure: 'psi' as const, temperature: '°F' as const };
const map = { channel: 'map', unit: 'kPa' };

describe('an axis for a reader', () => {
	it('is written in the reader’s unit: 100 kPa are 14.5 psi (NIST SP 811), gauge from standard air', () => {
		expect(axisFor(map, psi).unit).toBe('psi');
		expect(axisFor(map, psi).text(100)).toBe('14.5');
		expect(axisFor(map, { ...psi, gauge: true }).unit).toBe('psi gauge');
		expect(axisFor(map, { ...psi, gauge: true }).text(200)).toBe('14.3');
		expect(axisFor({ channel: 'iat', unit: '°C' }, psi).text(40)).toBe('104');
	});
	it('stays as it is written where that is the reader’s unit, or nobody converts it', () => {
		expect(axisFor(map, DEFAULT_UNITS)).toMatchObject({ unit: 'kPa' });
		expect(axisFor(map, DEFAULT_UNITS).text(99.5)).toBe('99.5');
		expect(axisFor({ channel: 'map', unit: 'psi' }, psi).text(14.696)).toBe('14.696');
		expect(axisFor({ channel: 'map', unit: 'psi' }, DEFAULT_UNITS).text(29)).toBe('200');
		expect(axisFor({ channel: 'rpm', unit: 'rpm' }, psi).text(6500)).toBe('6500');
		expect(axisFor({ channel: 'pressureRatio' }, psi).text(1.8)).toBe('1.8');
	});
});

describe('a cell for a reader', () => {
	const boost = { id: 'boost.target', unit: 'kPa' };
	it('is said in the reader’s unit beside the table’s own: 200 kPa are 29.0 psi, 14.3 over standard air', () => {
		expect(valueFor(boost, psi)!(200)).toBe('29.0 psi');
		expect(valueFor(boost, { ...psi, gauge: true })!(200)).toBe('14.3 psi gauge');
		expect(valueFor({ ...boost, unit: 'psi' }, DEFAULT_UNITS)!(29)).toBe('200 kPa');
		expect(valueFor({ ...boost, unit: 'bar gauge' }, psi)!(1)).toBe('14.5 psi gauge');
		expect(valueFor({ id: 'lambda.target', unit: 'AFR' }, DEFAULT_UNITS)!(14.7)).toBe('1.000 λ');
	});
	it('is not said twice where the table is in the reader’s unit, or in one that nobody converts', () => {
		expect(valueFor(boost, DEFAULT_UNITS)).toBeNull();
		expect(valueFor({ ...boost, unit: 'psi' }, psi)).toBeNull();
		expect(valueFor({ id: 'timing.base', unit: '°' }, psi)).toBeNull();
		expect(valueFor({ id: 'fuel.trim' }, psi)).toBeNull();
	});
});
