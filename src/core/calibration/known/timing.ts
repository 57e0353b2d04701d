/** Timing, the trigger, and knock control. */
import type { ItemKind } from '../item-kind.ts';
import { advancing, exactly, SENSOR_CAUTION, TIMING_CAUTION } from './words.ts';

export const TIMING_ITEMS = [
	{
		id: 'spark.table',
		title: 'Timing',
		group: 'Timing',
		unit: '°',
		decimals: 1,
		usual: [-30, 60],
		acts: 'timing',
		about:
			'Ignition in degrees before top dead centre. Trims by cylinder add to it; the trigger offset decides which crank angle a number is.',
		direction: advancing,
		cliff: { by: 6, relative: false, unit: '°', digits: 1 },
		measured: 'knock',
		caution: TIMING_CAUTION
	},
	{
		id: 'spark.cylTrim',
		title: 'Timing trim by cylinder',
		group: 'Timing',
		unit: '°',
		decimals: 1,
		usual: [-10, 10],
		acts: 'timing',
		about: 'Degrees added to the table for one cylinder.',
		direction: advancing,
		measured: 'knock',
		caution: TIMING_CAUTION
	},
	{
		id: 'spark.iatTrim',
		title: 'Timing trim by intake air',
		group: 'Timing',
		unit: '°',
		decimals: 1,
		usual: [-30, 15],
		acts: 'timing',
		about: 'Degrees added to the table by the temperature of the intake air; negative where the air is hot.',
		direction: advancing,
		adjusts: 'timing',
		measured: 'knock',
		caution: TIMING_CAUTION
	},
	{
		id: 'spark.nitrous',
		title: 'Timing with nitrous',
		group: 'Timing',
		unit: '°',
		decimals: 1,
		usual: [-30, 10],
		acts: 'timing',
		about: 'Degrees added to the table while nitrous flows; negative takes timing out.',
		direction: advancing,
		caution: TIMING_CAUTION
	},
	{
		id: 'spark.baseVerified',
		title: 'Base timing verified',
		group: 'Timing',
		unit: '',
		decimals: 0,
		acts: 'record',
		about:
			'When, and by whom, base timing was checked with a timing light. Empty: nobody knows which crank angle a number of the timing table is.',
		neutral: 'a record, not a calibration value'
	},
	{
		id: 'knock.enabled',
		title: 'Knock control',
		group: 'Knock',
		unit: '',
		decimals: 0,
		acts: 'knock',
		about: 'Whether the controller listens and takes timing out. It is never switched off.',
		onOff: {
			on: 'knock control switched on',
			off: 'knock control switched off',
			stillOff: 'knock control off'
		}
	},
	{
		id: 'knock.sensitivity',
		title: 'Knock sensitivity',
		group: 'Knock',
		unit: '%',
		decimals: 0,
		acts: 'knock',
		about:
			'How readily knock control hears knock; 100 % is as built. It comes down only against knock that is proved false, five points at a time.',
		direction: {
			riskier: 'down',
			up: 'knock control more sensitive',
			down: 'knock sensitivity down',
			tolerance: exactly('%')
		}
	},
	{
		id: 'trigger.mode',
		title: 'Trigger',
		group: 'Sensors',
		unit: '',
		decimals: 0,
		acts: 'trigger',
		about:
			'How the controller reads the crank and cam wheels. Another mode turns all timing against the crank.',
		guard: {
			why: 'the trigger set-up differs: the same table value is another crank angle',
			affects: { acts: ['timing', 'record'] }
		},
		caution: SENSOR_CAUTION
	},
	{
		id: 'trigger.offset',
		title: 'Trigger offset',
		group: 'Sensors',
		unit: '°',
		decimals: 1,
		acts: 'trigger',
		about:
			'Degrees between the trigger mark and top dead centre. A degree here is a degree of timing in every cell; check it with a timing light.',
		guard: {
			why: 'the trigger set-up differs: the same table value is another crank angle',
			affects: { acts: ['timing', 'record'] }
		},
		caution: SENSOR_CAUTION
	}
] as const satisfies readonly ItemKind[];
