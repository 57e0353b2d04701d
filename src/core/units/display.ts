/** How values are shown to a reader: the unit systems that the switch at the top of every page offers. */
import { convert } from './units.ts';
import { STOICH_PETROL } from './fuel.ts';

/** Standard atmosphere (ISO 2533): what gauge pressures are counted from. */
export const STANDARD_AIR_KPA = 101.325;

/** Mechanical horsepower (550 ft·lbf/s), pound-force foot and foot, by their definitions (NIST SP 811, appendix B). */
const KW_PER_HP = 0.745699872;
const NM_PER_LBFT = 1.355817948;
export const M_PER_FT = 0.3048;

export interface UnitChoice {
	mixture: 'lambda' | 'afr-petrol' | 'afr-fuel';
	pressure: 'kPa' | 'psi' | 'bar';
	temperature: '°C' | '°F';
	speed: 'km/h' | 'mph';
	/** Power and torque go together: kW with Nm, hp with lb·ft. */
	power: 'kW' | 'hp';
	/** Manifold pressure over standard air, as a boost gauge shows it, instead of absolute. */
	gauge: boolean;
}

export const DEFAULT_UNITS: UnitChoice = {
	mixture: 'lambda',
	pressure: 'kPa',
	temperature: '°C',
	speed: 'km/h',
	power: 'kW',
	gauge: false
};

export interface Shown {
	value: number;
	unit: string;
	decimals: number;
}

/**
 * A canonical value in the reader's units.
 * @param unit canonical unit of the value (kPa, kPa abs, °C, km/h, λ, kW, Nm, m); others pass through. Absolute pressures of the manifold are `kPa abs`: only
 * they have a gauge form, always over the same standard air, since a sentence or an axis knows no barometer.
 * @param fuelStoich stoichiometric ratio of the fuel in the tank, for the "AFR of the real fuel" scale
 */
export function shown(
	value: number,
	unit: string,
	choice: UnitChoice,
	fuelStoich: number = STOICH_PETROL
): Shown {
	switch (unit) {
		case 'kPa abs': {
			const s = shown(choice.gauge ? value - STANDARD_AIR_KPA : value, 'kPa', choice);
			return choice.gauge ? { ...s, unit: `${s.unit} gauge` } : s;
		}
		case 'kPa':
			return {
				value: convert(value, 'kPa', choice.pressure),
				unit: choice.pressure,
				decimals: choice.pressure === 'bar' ? 2 : choice.pressure === 'psi' ? 1 : 0
			};
		case 'kW':
			return { value: choice.power === 'hp' ? value / KW_PER_HP : value, unit: choice.power, decimals: 0 };
		case 'Nm':
			return choice.power === 'hp'
				? { value: value / NM_PER_LBFT, unit: 'lb·ft', decimals: 0 }
				: { value, unit, decimals: 0 };
		case 'm':
			// Whoever drives in miles reads heights in feet.
			return choice.speed === 'mph'
				? { value: value / M_PER_FT, unit: 'ft', decimals: 0 }
				: { value, unit, decimals: 0 };
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
