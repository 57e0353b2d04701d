/** What can't be checked while a fact of the vehicle is missing: shown beside the form, so that nobody types for nothing. */
import { bankCount, type Vehicle } from '../vehicle.ts';

export interface Need {
	/** The field that would help. */
	path: string;
	label: string;
	/** What waits for it, in the tuner's words. */
	without: string;
	/** Codes of the checks. */
	codes: readonly string[];
}

interface Rule extends Need {
	missing: (v: Vehicle) => boolean;
}

const RULES: readonly Rule[] = [
	{
		path: 'engine.displacementL',
		label: 'Displacement',
		without: 'modelled air and duty projections in speed-density',
		codes: ['inj.reserve'],
		missing: (v) => v.engine.displacementL === undefined
	},
	{
		path: 'engine.injection',
		label: 'Injection',
		without: 'injector duty, and how lean a target may be',
		codes: ['inj.duty', 'fuel.target'],
		missing: (v) => v.engine.injection === undefined
	},
	{
		path: 'injectors.windowDeg',
		label: 'Window, direct injection',
		without: 'injector duty of a direct-injected engine',
		codes: ['inj.duty', 'inj.reserve'],
		missing: (v) => v.engine.injection === 'direct' && v.injectors?.windowDeg === undefined
	},
	{
		path: 'engine.layout',
		label: 'Layout, or cylinders by bank',
		without: 'the banks against each other',
		codes: ['bank.mismatch', 'bank.unseen'],
		missing: (v) => v.engine.layout === undefined && v.engine.banks === undefined
	},
	{
		path: 'sensor.0.channel',
		label: 'Lambda sensors and where they sit',
		without: 'which reading to believe, and whether a bank was ever seen',
		codes: ['sensor.lambda', 'bank.unseen'],
		missing: (v) => !v.sensors?.lambda?.length && bankCount(v) === 2
	},
	{
		path: 'sensor.0.channel',
		label: 'Lambda sensors and where they sit',
		without: 'which reading to believe',
		codes: ['sensor.lambda'],
		missing: (v) => !v.sensors?.lambda?.length && bankCount(v) === 1
	},
	{
		path: 'sensors.mapFullScaleKpa',
		label: 'MAP sensor, full scale',
		without: 'whether the pressure sensor is at its end',
		codes: ['log.sensor'],
		missing: (v) => v.sensors?.mapFullScaleKpa === undefined
	},
	{
		path: 'sensors.baro',
		label: 'Barometer',
		without: "the pressure sensor's scaling",
		codes: ['sensor.map'],
		missing: (v) => v.sensors?.baro === undefined
	},
	{
		path: 'injectors.pressureReference',
		label: 'Pressure follows, and base pressure',
		without: 'fuel pressure under load',
		codes: ['supply.pressure'],
		missing: (v) =>
			v.injectors?.pressureReference === undefined ||
			(v.injectors.pressureReference !== 'controlled' && v.injectors.basePressureKpa === undefined)
	},
	{
		path: 'injectors.deadTimeMs',
		label: 'Dead time',
		without: 'injector reserve on the worst day',
		codes: ['inj.reserve'],
		missing: (v) => v.injectors?.deadTimeMs === undefined
	},
	{
		path: 'controller.learnedTrimAtFullLoad',
		label: 'Learned trim at full load',
		without: 'corrections at full load while trims are learned: those cells are held',
		codes: [],
		missing: (v) => v.controller?.learnedTrimAtFullLoad === undefined
	},
	{
		path: 'controller.software',
		label: 'Controller hardware and software',
		without: 'that a closed file is for this very controller',
		codes: [],
		missing: (v) => !v.controller?.hardware || !v.controller.software
	},
	{
		path: 'transmission.gears',
		label: 'Gear ratios, final drive, tyre',
		without: 'gears of pulls by ratio, wheelspin, road speeds in the drive plan',
		codes: ['traction', 'shift.speed'],
		missing: (v) =>
			!v.transmission?.gears?.length || !v.transmission.finalDrive || !v.transmission.tyreCircumferenceM
	},
	{
		path: 'baselines.idleMapKpa',
		label: 'Manifold pressure at idle',
		without: 'an air leak at idle',
		codes: ['idle.vacuum'],
		missing: (v) => v.baselines?.idleMapKpa === undefined
	},
	{
		path: 'baselines.boostKpa',
		label: 'Boost it makes',
		without: 'boost, where the log carries no set point',
		codes: ['boost.under', 'boost.over'],
		missing: (v) => v.engine.aspiration !== 'na' && !v.baselines?.boostKpa?.length
	},
	{
		path: 'fuel.ethanolPct',
		label: 'Ethanol',
		without: 'whether the blend in the tank is the one that was agreed',
		codes: ['sensor.ethanol'],
		missing: (v) => v.fuel?.ethanolPct === undefined
	}
];

export function needsOf(vehicle: Vehicle): Need[] {
	return RULES.filter((r) => r.missing(vehicle)).map(({ path, label, without, codes }) => ({
		path,
		label,
		without,
		codes
	}));
}
