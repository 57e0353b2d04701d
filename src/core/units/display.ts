/** How values are shown to a reader: the unit systems that the switch at the top of every page offers. */
import { convert } from './units.ts';
import { STOICH_PETROL } from './fuel.ts';

export interface UnitChoice {
	mixture: 'lambda' | 'afr-petrol' | 'afr-fuel';
	pressure: 'kPa' | 'psi' | 'bar';
	temperature: '°C' | '°F';
	speed: 'km/h' | 'mph';
}

export const DEFAULT_UNITS: UnitChoice = {
	mixture: 'lambda',
	pressure: 'kPa',
	temperature: '°C',
	speed: 'km/h'
};

export interface Shown {
	value: number;
	unit: string;
	decimals: number;
}

/**
 * A canonical value in the reader's units.
 * @param unit canonical unit of the value (kPa, °C, km/h, λ); others pass through
 * @param fuelStoich stoichiometric ratio of the fuel in the tank, for the "AFR of the real fuel" scale
 */
export function shown(
	value: number,
	unit: string,
	choice: UnitChoice,
	fuelStoich: number = STOICH_PETROL
): Shown {
	switch (unit) {
		case 'kPa':
			return {
				value: convert(value, 'kPa', choice.pressure),
				unit: choice.pressure,
				decimals: choice.pressure === 'bar' ? 2 : choice.pressure === 'psi' ? 1 : 0
			};
		case '°C':
			return {
				value: convert(value, '°C', choice.temperature),
				unit: choice.temperature,
				decimals: 0
			};
		case 'km/h':
			return { value: convert(value, 'km/h', choice.speed), unit: choice.speed, decimals: 0 };
		case 'λ':
			if (choice.mixture === 'lambda') return { value, unit: 'λ', decimals: 3 };
			if (choice.mixture === 'afr-petrol') return { value: value * STOICH_PETROL, unit: 'AFR', decimals: 1 };
			return { value: value * fuelStoich, unit: 'AFR fuel', decimals: 1 };
		default:
			return { value, unit, decimals: DECIMALS[unit] ?? 1 };
	}
}

const DECIMALS: Record<string, number> = { rpm: 0, '%': 1, '°': 1, ms: 2, 'g/s': 1, g: 3, V: 1 };
