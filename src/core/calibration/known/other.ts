/** Boost, limits, sensors, driveline. */
import type { ItemKind } from '../item-kind.ts';
import { exactly, SENSOR_CAUTION } from './words.ts';

export const OTHER_ITEMS = [
	{
		id: 'boost.target',
		title: 'Boost target',
		group: 'Boost',
		unit: 'kPa',
		decimals: 1,
		usual: [20, 600],
		acts: 'boost',
		about:
			'Manifold pressure that boost control works towards. More of it reads higher rows of fuel and timing, and takes more of injectors and pump.',
		direction: {
			riskier: 'up',
			up: 'more boost',
			down: 'less boost',
			tolerance: { by: 0.5, relative: false, unit: 'kPa', digits: 1 }
		},
		cliff: { by: 30, relative: false, unit: 'kPa', digits: 1 },
		measured: 'boost',
		caution: {
			risky: true,
			text: 'There is more boost. One pull first, then look at the plugs, and only then the rest of the plan.'
		}
	},
	{
		id: 'limit.rpm',
		title: 'Rev limit',
		group: 'Limits',
		unit: 'rpm',
		decimals: 0,
		usual: [1500, 16000],
		acts: 'protection',
		about: 'Engine speed at which fuel or spark is cut.',
		direction: {
			riskier: 'up',
			up: 'rev limit raised',
			down: 'rev limit lowered',
			tolerance: exactly('rpm')
		},
		caution: { risky: true, text: 'The rev limit is higher. Go there once, briefly, and send the log.' }
	},
	{
		id: 'limit.boost',
		title: 'Boost cut',
		group: 'Limits',
		unit: 'kPa',
		decimals: 1,
		usual: [80, 700],
		acts: 'protection',
		about:
			'Manifold pressure at which the engine is cut. It should stand a little over the highest boost target, not far over.',
		direction: {
			riskier: 'up',
			up: 'boost protection loosened',
			down: 'boost protection tightened',
			tolerance: exactly('kPa')
		}
	},
	{
		id: 'limit.lean',
		title: 'Lean protection',
		group: 'Limits',
		unit: 'λ',
		decimals: 3,
		usual: [0.6, 1.6],
		acts: 'protection',
		about: 'Lambda under load at which the engine is cut or derated.',
		direction: {
			riskier: 'up',
			up: 'lean protection loosened',
			down: 'lean protection tightened',
			tolerance: exactly('λ')
		}
	},
	{
		id: 'sensor.map',
		title: 'Pressure sensor',
		group: 'Sensors',
		unit: '',
		decimals: 2,
		acts: 'sensor',
		about:
			'How the voltage of the manifold pressure sensor becomes kPa. Another scaling moves every cell that is read by pressure.',
		guard: {
			why: 'the pressure sensor is scaled differently: the same cell is another pressure',
			affects: { items: ['fuel.table', 'spark.table', 'lambda.target', 'boost.target', 'limit.boost'] }
		},
		caution: SENSOR_CAUTION
	},
	{
		id: 'sensor.maf',
		title: 'Air meter',
		group: 'Sensors',
		unit: '',
		decimals: 2,
		acts: 'sensor',
		about: 'Which air meter, in which pipe. Another one makes the same signal another air mass.',
		guard: {
			why: 'the air meter is scaled differently: the same frequency is another flow',
			affects: { items: ['maf.curve', 'fuel.table', 'spark.table'] }
		},
		caution: SENSOR_CAUTION
	},
	{
		id: 'sensor.lambda',
		title: 'Lambda sensor',
		group: 'Sensors',
		unit: '',
		decimals: 2,
		acts: 'sensor',
		about:
			'How the lambda sensor’s signal becomes lambda. Closed loop and every correction from a log hang on it.',
		guard: {
			why: 'the lambda input is scaled differently: trims and targets mean another mixture',
			affects: { items: ['lambda.target', 'fuel.table', 'fuel.trim', 'limit.lean'] }
		},
		caution: SENSOR_CAUTION
	},
	{
		id: 'throttle.demand',
		title: 'Throttle demand',
		group: 'Driveline',
		unit: '%',
		decimals: 1,
		usual: [0, 100],
		acts: 'throttle',
		about: 'How far the throttle opens for the pedal.',
		direction: {
			riskier: 'up',
			up: 'more throttle',
			down: 'less throttle',
			tolerance: { by: 0.05, relative: false, unit: '%', digits: 1 }
		}
	},
	{
		id: 'shift.rpm',
		title: 'Shift speeds',
		group: 'Driveline',
		unit: 'rpm',
		decimals: 0,
		usual: [500, 15000],
		acts: 'shift',
		about: 'Engine speed at which the gearbox shifts up, by gear. Over the rev limit it never comes.',
		neutral: 'shift speeds'
	}
] as const satisfies readonly ItemKind[];
