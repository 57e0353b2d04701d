/** Answers that are no file: what a trainee can ask the stand-in's customer for, and what that does to the car. */
import type { Faults } from '../simulator/faults.ts';

export interface Cure {
	id: CureId;
	title: string;
	/** Of the hidden faults it takes away. */
	mends: readonly (keyof Faults)[];
}

const CURES_BY_ID = {
	'injectors-flowed': {
		title: 'Have the injectors of the lean bank or cylinder flowed and replaced',
		mends: ['bankFlow', 'bankFlowAt', 'leanCylinder']
	},
	'sensor-replaced': {
		title: 'Replace the lambda sensor that isn’t right',
		mends: ['bankSensor', 'factoryDriftRich', 'factoryDriftAt']
	},
	'coil-replaced': {
		title: 'Replace the coil and plug of the dead cylinder',
		mends: ['deadCylinder', 'misfire']
	},
	'rattle-fixed': { title: 'Find and fix what rattles on the block', mends: ['falseKnockPerS'] },
	'leak-closed': { title: 'Press the intake off and close the leak', mends: ['boostLeak'] },
	'pump-replaced': { title: 'Replace the fuel pump', mends: ['pressureSagKpa'] },
	'better-fuel': { title: 'Fill up with the fuel that was agreed', mends: ['octaneRon', 'fuelNeed'] },
	'alternator-fixed': { title: 'Have the charging looked at', mends: ['supplyV'] },
	'bigger-injectors': { title: 'Fit bigger injectors before more boost', mends: [] },
	'file-flashed': { title: 'Flash the file that was meant', mends: [] }
} as const satisfies Record<string, Omit<Cure, 'id'>>;

export type CureId = keyof typeof CURES_BY_ID;
export const CURE_IDS = Object.keys(CURES_BY_ID) as CureId[];
export const CURES: readonly Cure[] = CURE_IDS.map((id) => ({ id, ...CURES_BY_ID[id] }));

/** The faults that are left after everything that was asked for was done. */
export function without(faults: Faults, cures: readonly CureId[]): Faults {
	const gone = new Set<string>(cures.flatMap((id) => CURES_BY_ID[id].mends));
	return Object.fromEntries(Object.entries(faults).filter(([name]) => !gone.has(name))) as Faults;
}
