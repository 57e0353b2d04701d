/** Fuel, its target, and the injectors. */
import type { ItemKind } from '../item-kind.ts';
import { FUEL_PCT, TRIM_PCT, fuelling, INJECTOR_CAUTION } from './words.ts';

export const FUEL_ITEMS = [
	{
		id: 'fuel.table',
		title: 'Fuel table',
		group: 'Fuel',
		unit: '%',
		decimals: 2,
		usual: [0, 250],
		acts: 'fuel',
		about:
			'How much of the cylinder fills at each engine speed and load (speed-density), or the share of the reference pulse (pulse-width). Fuel goes in proportion to it; the target, the trims and the injector data multiply what it says.',
		direction: fuelling(FUEL_PCT),
		cliff: { by: 20, relative: true, unit: '%', digits: 1 },
		measured: 'cells'
	},
	{
		id: 'fuel.referencePulse',
		title: 'Reference pulse',
		group: 'Fuel',
		unit: 'ms',
		decimals: 3,
		usual: [1, 60],
		acts: 'fuel',
		about:
			'The pulse that the table’s 100 % stands for; halve it and double the table, and nearly the same fuel comes out. Without a change of the table it moves all fuel at once.',
		direction: fuelling(FUEL_PCT),
		measured: 'overall'
	},
	{
		id: 'fuel.trim',
		title: 'Global trim',
		group: 'Fuel',
		unit: '%',
		decimals: 1,
		usual: [-50, 50],
		acts: 'fuel',
		about: 'A share added to all fuel everywhere, idle and full throttle alike. The table keeps its shape.',
		direction: fuelling(TRIM_PCT),
		measured: 'overall'
	},
	{
		id: 'fuel.mapScaling',
		title: 'Pressure scaling of the pulse',
		group: 'Fuel',
		unit: 'kPa',
		decimals: 1,
		acts: 'fuel',
		about:
			'The manifold pressure at which the reference pulse holds; the pulse then follows pressure. “none” leaves all of the load to the table. Switching it over changes what every cell of the table means.',
		measured: 'overall'
	},
	{
		id: 'fuel.cylTrim',
		title: 'Fuel trim by cylinder',
		group: 'Fuel',
		unit: '%',
		decimals: 1,
		usual: [-25, 25],
		acts: 'fuel',
		about:
			'A share added to one cylinder’s fuel. The mean of all of them moves the whole engine: a trim up on one is a richer bank.',
		direction: fuelling(TRIM_PCT),
		measured: 'cylinders'
	},
	{
		id: 'fuel.iatTrim',
		title: 'Fuel trim by intake air',
		group: 'Fuel',
		unit: '%',
		decimals: 1,
		usual: [-40, 40],
		acts: 'fuel',
		about:
			'A share added to all fuel by the temperature of the intake air. It is read at the sensor: heat soak after a stop reads hot air that the engine no longer breathes, and leans it out.',
		direction: fuelling(TRIM_PCT),
		adjusts: 'fuel',
		measured: 'overall'
	},
	{
		id: 'fuel.tempTrim',
		title: 'Fuel trim by fuel temperature',
		group: 'Fuel',
		unit: '%',
		decimals: 1,
		usual: [-20, 20],
		acts: 'fuel',
		about:
			'A share added to all fuel by the temperature of the fuel. Hot fuel is thinner: the same pulse gives less of it, about a percent in ten degrees.',
		direction: fuelling(TRIM_PCT),
		adjusts: 'fuel',
		measured: 'overall'
	},
	{
		id: 'fuel.nitrous',
		title: 'Fuel with nitrous',
		group: 'Fuel',
		unit: 'g/s',
		decimals: 2,
		acts: 'fuel',
		about: 'Fuel added for the nitrous at each duty of its solenoid. The base fuel runs on beside it.',
		direction: fuelling(FUEL_PCT)
	},
	{
		id: 'maf.curve',
		title: 'Air meter curve',
		group: 'Fuel',
		unit: 'g/s',
		decimals: 2,
		usual: [0, 2500],
		acts: 'fuel',
		about:
			'Air mass at each signal of the air meter. Fuel and calculated load follow it, and with the load the row of every other table: more air here also reads the timing table farther up.',
		direction: fuelling(FUEL_PCT),
		measured: 'overall'
	},
	{
		id: 'air.model',
		title: 'Air model',
		group: 'Fuel',
		unit: 'g/s',
		decimals: 2,
		usual: [0, 2500],
		acts: 'air',
		about:
			'What the controller believes of the air without its meter: filling by engine speed and load. Torque, boost and the plausibility of the meter hang on it; fuel only where the controller computes fuel from it.',
		neutral: 'air that is reckoned with: fuel follows it only where the controller computes fuel from it',
		cliff: { by: 20, relative: true, unit: '%', digits: 1 },
		measured: 'overall'
	},
	{
		id: 'lambda.target',
		title: 'Lambda target',
		group: 'Fuel',
		unit: 'λ',
		decimals: 3,
		usual: [0.55, 1.3],
		acts: 'target',
		about:
			'The mixture that is asked for. In a model that computes fuel from air the fuel follows it; in a pulse-width model it only tells closed loop where to go.',
		direction: {
			riskier: 'up',
			up: 'leaner target',
			down: 'richer target',
			tolerance: { by: 0.002, relative: false, unit: 'λ', digits: 3 }
		},
		cliff: { by: 0.08, relative: false, unit: 'λ', digits: 3 }
	},
	{
		id: 'injector.flow',
		title: 'Injector flow',
		group: 'Injectors',
		unit: 'cc/min',
		decimals: 1,
		usual: [50, 5000],
		acts: 'injector',
		about:
			'What an injector flows, as the controller believes. Fuel computed from air is divided by it: a higher number is a shorter pulse, and less fuel from the same injector.',
		guard: {
			why: 'the injector data differ: the same pulse is another amount of fuel',
			affects: { acts: ['fuel'] }
		},
		measured: 'overall',
		caution: INJECTOR_CAUTION
	},
	{
		id: 'injector.deadTime',
		title: 'Injector dead time',
		group: 'Injectors',
		unit: 'ms',
		decimals: 3,
		acts: 'injector',
		about:
			'Time that an injector takes to open, by supply voltage; added to every pulse. It matters most where pulses are short: at idle and light load.',
		guard: {
			why: 'the injector data differ: the same pulse is another amount of fuel',
			affects: { acts: ['fuel'] }
		},
		measured: 'overall',
		caution: INJECTOR_CAUTION
	}
] as const satisfies readonly ItemKind[];
