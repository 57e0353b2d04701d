/** What can't be checked while a fact of the vehicle is missing: shown beside the form, so that nobody types for nothing. */
import type { Vehicle } from './document.ts';

export interface Need {
	/** Checks name what they need by it. */
	id: string;
	/** The field that would help. */
	path: string;
	label: string;
	/** What waits for it, in the tuner's words. */
	without: string;
}

interface Rule extends Need {
	missing: (v: Vehicle) => boolean;
}

const RULES = [
	{
		id: 'displacement',
		path: 'engine.displacementL',
		label: 'Displacement',
		without: 'modelled air and duty projections in speed-density',
		missing: (v) => v.engine.displacementL === undefined
	},
	{
		id: 'injection',
		path: 'engine.injection',
		label: 'Injection',
		without: 'injector duty, and how lean a target may be',
		missing: (v) => v.engine.injection === undefined
	},
	{
		id: 'window',
		path: 'injectors.windowDeg',
		label: 'Window, direct injection',
		without: 'injector duty of a direct-injected engine',
		missing: (v) => v.engine.injection === 'direct' && v.injectors?.windowDeg === undefined
	},
	{
		id: 'layout',
		path: 'engine.layout',
		label: 'Layout, or cylinders by bank',
		without: 'the banks against each other',
		missing: (v) => v.engine.layout === undefined && v.engine.banks === undefined
	},
	{
		id: 'lambdaSensors',
		path: 'sensor.0.channel',
		label: 'Lambda sensors and where they sit',
		without: 'which reading to believe, and with two banks whether each was ever seen',
		missing: (v) => !v.sensors?.lambda?.length
	},
	{
		id: 'mapFullScale',
		path: 'sensors.mapFullScaleKpa',
		label: 'MAP sensor, full scale',
		without: 'whether the pressure sensor is at its end',
		missing: (v) => v.sensors?.mapFullScaleKpa === undefined
	},
	{
		id: 'baro',
		path: 'sensors.baro',
		label: 'Barometer',
		without: "the pressure sensor's scaling",
		missing: (v) => v.sensors?.baro === undefined
	},
	{
		id: 'pressure',
		path: 'injectors.pressureReference',
		label: 'Pressure follows, and base pressure',
		without: 'fuel pressure under load',
		missing: (v) =>
			v.injectors?.pressureReference === undefined ||
			(v.injectors.pressureReference !== 'controlled' && v.injectors.basePressureKpa === undefined)
	},
	{
		id: 'deadTime',
		path: 'injectors.deadTimeMs',
		label: 'Dead time',
		without: 'injector reserve on the worst day',
		missing: (v) => v.injectors?.deadTimeMs === undefined
	},
	{
		id: 'learnedTrim',
		path: 'controller.learnedTrimAtFullLoad',
		label: 'Learned trim at full load',
		without: 'corrections at full load while trims are learned: those cells are held',
		missing: (v) => v.controller?.learnedTrimAtFullLoad === undefined
	},
	{
		id: 'software',
		path: 'controller.software',
		label: 'Controller hardware and software',
		without: 'that a closed file is for this very controller',
		missing: (v) => !v.controller?.hardware || !v.controller.software
	},
	{
		id: 'gears',
		path: 'transmission.gears',
		label: 'Gear ratios, final drive, tyre',
		without: 'gears of pulls by ratio, wheelspin, road speeds in the drive plan',
		missing: (v) =>
			!v.transmission?.gears?.length || !v.transmission.finalDrive || !v.transmission.tyreCircumferenceM
	},
	{
		id: 'idleMap',
		path: 'baselines.idleMapKpa',
		label: 'Manifold pressure at idle',
		without: 'an air leak at idle',
		missing: (v) => v.baselines?.idleMapKpa === undefined
	},
	{
		id: 'boost',
		path: 'baselines.boostKpa',
		label: 'Boost it makes',
		without: 'boost, where the log carries no set point',
		missing: (v) => v.engine.aspiration !== 'na' && !v.baselines?.boostKpa?.length
	},
	{
		id: 'ethanol',
		path: 'fuel.ethanolPct',
		label: 'Ethanol',
		without: 'whether the blend in the tank is the one that was agreed',
		missing: (v) => v.fuel?.ethanolPct === undefined
	}
] as const satisfies readonly Rule[];

export type NeedId = (typeof RULES)[number]['id'];

export function needsOf(vehicle: Vehicle): Need[] {
	return RULES.filter((r) => r.missing(vehicle)).map(({ id, path, label, without }) => ({
		id,
		path,
		label,
		without
	}));
}
