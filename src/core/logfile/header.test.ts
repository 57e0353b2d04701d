import { describe, expect, it } from 'vitest';
import { clockOf, COMMON_CLOCK, NO_CLOCK, splitHeader } from './header.ts';

describe('a header taken apart', () => {
	it.each([
		['Boost [psi]', 'Boost', 'psi'],
		['Manifold Pressure (kPa)', 'Manifold Pressure', 'kPa'],
		['Time s', 'Time', 's'],
		['Time_ms', 'Time', 'ms'],
		['Engine Speed rpm', 'Engine Speed', 'rpm'],
		['Intake Air Temperature F', 'Intake Air Temperature', 'F'],
		['Throttle Position %', 'Throttle Position', '%'],
		['MAP_kPa', 'MAP', 'kPa'],
		['AFR Bank 1 AFR', 'AFR Bank 1', 'AFR'],
		['Boost psi gauge', 'Boost', 'psi gauge'],
		['Battery V', 'Battery', 'V']
	])('%s', (cell, name, unit) => {
		expect(splitHeader(cell)).toEqual({ name, unit });
	});
	it.each([
		'Target AFR',
		'Engine RPM',
		'Lambda',
		'Gear',
		'Ignition Timing',
		'Boost Target',
		'Fan 2 s',
		'RPM'
	])('%s has no unit of its own', (cell) => {
		expect(splitHeader(cell)).toEqual({ name: cell, unit: '' });
	});
});

describe('clocks among the columns', () => {
	it('are common, or of one column by its name', () => {
		expect([...clockOf(['Time', 'Engine Speed', 'Engine Speed Time', 'Gear Time', 'Gear'])]).toEqual([
			COMMON_CLOCK,
			NO_CLOCK,
			1,
			4,
			NO_CLOCK
		]);
	});
	it('are none where no column of that name is there', () => {
		expect([...clockOf(['Injection Time', 'Lap Time'])]).toEqual([NO_CLOCK, NO_CLOCK]);
	});
});
