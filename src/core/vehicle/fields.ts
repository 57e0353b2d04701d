/** The build sheet: what is asked of a vehicle, in the order in which somebody who builds engines tells it. */

export type FieldKind = 'text' | 'number' | 'tyre' | 'choice' | 'numbers' | 'groups' | 'pairs' | 'words';

export interface Field {
	/** Where it stands in the document. */
	path: string;
	label: string;
	kind: FieldKind;
	unit?: string;
	hint?: string;
	required?: true;
	/** Value and word; the empty value is "not known". */
	choices?: readonly (readonly [value: string, word: string])[];
}

export interface Section {
	title: string;
	fields: readonly Field[];
}

const number = (path: string, label: string, unit = '', more: Partial<Field> = {}): Field => ({
	path,
	label,
	kind: 'number',
	...(unit ? { unit } : {}),
	...more
});
const text = (path: string, label: string, more: Partial<Field> = {}): Field => ({
	path,
	label,
	kind: 'text',
	...more
});
const choice = (
	path: string,
	label: string,
	choices: Field['choices'],
	more: Partial<Field> = {}
): Field => ({
	path,
	label,
	kind: 'choice',
	choices: choices!,
	...more
});
const UNKNOWN = ['', 'not known'] as const;

export const SHEET: readonly Section[] = [
	{
		title: 'Engine',
		fields: [
			text('name', 'Vehicle', { required: true, hint: 'as you call it' }),
			choice('engine.layout', 'Layout', [UNKNOWN, ['inline', 'inline'], ['v', 'V'], ['flat', 'flat']]),
			number('engine.cylinders', 'Cylinders', '', { required: true }),
			number('engine.displacementL', 'Displacement', 'l'),
			number('engine.compressionRatio', 'Compression ratio'),
			number('engine.idleRpm', 'Idle speed', 'rpm'),
			number('engine.revLimitRpm', 'Rev limit', 'rpm', { required: true })
		]
	},
	{
		title: 'Banks and firing order',
		fields: [
			{ path: 'engine.banks', label: 'Cylinders by bank', kind: 'groups', hint: 'like 1 3 5 / 2 4 6' },
			{ path: 'engine.firingOrder', label: 'Firing order', kind: 'numbers', hint: 'like 1 3 4 2' }
		]
	},
	{
		title: 'Air',
		fields: [
			choice(
				'engine.aspiration',
				'Air',
				[
					['na', 'naturally aspirated'],
					['turbo', 'turbo'],
					['supercharged', 'supercharged']
				],
				{ required: true }
			),
			number('nitrous.shotHp', 'Nitrous, dry shot', 'hp')
		]
	},
	{
		title: 'Fuel',
		fields: [
			text('fuel.name', 'Fuel', { hint: 'like RON 98' }),
			number('fuel.ethanolPct', 'Ethanol', '%'),
			choice('fuel.ethanolSource', 'Ethanol in the log', [
				UNKNOWN,
				['sensor', 'from a sensor'],
				['inferred', 'inferred from trims'],
				['stated', 'set by hand']
			]),
			number('fuel.octaneRon', 'Octane', 'RON'),
			number('fuel.stoich', 'Stoichiometric AFR', '', {
				hint: 'other fuels only'
			})
		]
	},
	{
		title: 'Injectors',
		fields: [
			choice('engine.injection', 'Injection', [UNKNOWN, ['port', 'port'], ['direct', 'direct']]),
			number('injectors.flowCcMin', 'Flow', 'cc/min'),
			number('injectors.ratedPressureKpa', 'rated at', 'kPa'),
			number('injectors.testFluidKgL', 'Test fluid', 'kg/l'),
			number('injectors.basePressureKpa', 'Base pressure', 'kPa'),
			choice('injectors.pressureReference', 'Pressure follows', [
				UNKNOWN,
				['manifold', 'the manifold'],
				['atmosphere', 'the atmosphere'],
				['controlled', 'a controlled rail']
			]),
			number('injectors.injectionsPerCycle', 'Injections per cycle'),
			number('injectors.windowDeg', 'Window, direct injection', '°'),
			{
				path: 'injectors.deadTimeMs',
				label: 'Dead time',
				kind: 'pairs',
				unit: 'V:ms',
				hint: 'like 10:1.8 12:1.2 14:0.9'
			}
		]
	},
	{
		title: 'Sensors',
		fields: [
			number('sensors.mapFullScaleKpa', 'MAP sensor, full scale', 'kPa'),
			number('sensors.gaugeStoich', "AFR gauge's stoich", '', { hint: 'usually 14.7' }),
			choice('sensors.baro', 'Barometer', [
				UNKNOWN,
				['own', 'a sensor of its own'],
				['derived', 'derived from MAP']
			])
		]
	},
	{
		title: 'Controller',
		fields: [
			text('controller.hardware', 'Hardware'),
			text('controller.software', 'Software'),
			{ path: 'controller.locked', label: 'Locked parts', kind: 'words', hint: 'like gearbox' },
			choice('controller.learnedTrimAtFullLoad', 'Learned trim at full load', [
				UNKNOWN,
				['applied', 'applied'],
				['ignored', 'ignored'],
				['positive-only', 'only when it adds fuel']
			])
		]
	},
	{
		title: 'Gearbox and tyres',
		fields: [
			choice('transmission.type', 'Gearbox', [UNKNOWN, ['manual', 'manual'], ['automatic', 'automatic']]),
			{ path: 'transmission.gears', label: 'Gear ratios', kind: 'numbers', hint: 'like 3.4 2.1 1.45' },
			number('transmission.finalDrive', 'Final drive'),
			{
				path: 'transmission.tyreCircumferenceM',
				label: 'Tyre, or what it rolls off in a turn',
				kind: 'tyre',
				unit: 'm',
				hint: 'like 225/45 R17 or 1.94'
			},
			number('massKg', 'Mass, ready to drive', 'kg'),
			number('dragAreaM2', 'Drag area', 'm²')
		]
	},
	{
		title: 'Baselines: how it is when it is healthy',
		fields: [
			{
				path: 'baselines.coolantIdleC',
				label: 'Coolant at warm idle',
				kind: 'numbers',
				unit: '°C',
				hint: 'from to, like 76 100'
			},
			number('baselines.idleMapKpa', 'Manifold pressure at idle', 'kPa'),
			number('baselines.ambientPressureKpa', 'Air pressure at home', 'kPa'),
			number('baselines.fullThrottlePct', 'Throttle reads, fully open', '%'),
			{
				path: 'baselines.boostKpa',
				label: 'Boost it makes, absolute',
				kind: 'pairs',
				unit: 'rpm:kPa',
				hint: 'like 2500:140 4000:180'
			}
		]
	}
];

export const FIELDS: readonly Field[] = SHEET.flatMap((s) => s.fields);

/** Rows of lambda sensors that a form has room for. */
export const SENSOR_ROWS = 6;
