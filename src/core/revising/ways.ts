/**
 * Where practitioners disagree: each matter with its schools and what Tanto does. Four of them a workshop chooses for itself; the rest is said with its
 * reason and where it is set. Common practice on every side.
 */
import { z } from 'zod';

export const waysSchema = z.object({
	/** What is moved first when the mixture is off. */
	fuelFirst: z.enum(['table', 'injectors']).default('table'),
	/** Whether the knock sensor's sensitivity may be lowered at all. */
	knockSensitivity: z.enum(['after-proof', 'never']).default('after-proof'),
	/** What a job's first log shows. */
	firstDrive: z.enum(['part-throttle', 'full-throttle']).default('part-throttle'),
	/** Which evidence of a cylinder counts first where two kinds stand. */
	cylinderEvidence: z.enum(['lambda', 'plugs']).default('lambda')
});
export type Ways = z.infer<typeof waysSchema>;
export const DEFAULT_WAYS: Ways = waysSchema.parse({});

export interface Way<K extends keyof Ways = keyof Ways> {
	id: K;
	title: string;
	schools: readonly { value: Ways[K]; title: string; why: string }[];
	/** What follows from it, and where it is said. */
	does: string;
}

export const WAYS: readonly Way[] = [
	{
		id: 'fuelFirst',
		title: 'Injector data or the table first',
		schools: [
			{
				value: 'table',
				title: 'the fuel table',
				why: 'the injectors’ data are known from a flow bench: what is left is the engine’s breathing'
			},
			{
				value: 'injectors',
				title: 'the injectors’ data',
				why: 'a table that hides wrong injector data is wrong again with every pressure, voltage and fuel'
			}
		],
		does: 'Decides what a proposal corrects first. After a change of injectors their data come first in any case.'
	},
	{
		id: 'knockSensitivity',
		title: 'Knock sensitivity',
		schools: [
			{
				value: 'after-proof',
				title: 'lowered after proof',
				why: 'noise that is proved takes timing from a sound engine: 5 % a step, only where and on what fuel it was proved'
			},
			{
				value: 'never',
				title: 'never touched',
				why: 'noise of today may hide knock of tomorrow: the cause of the noise is found instead'
			}
		],
		does: 'Where it is never touched, a revision that lowers it can’t be released, whatever was proved.'
	},
	{
		id: 'firstDrive',
		title: 'First log of a job',
		schools: [
			{
				value: 'part-throttle',
				title: 'part throttle first',
				why: 'sensors, trims and cruise are seen before anything is loaded'
			},
			{
				value: 'full-throttle',
				title: 'full throttle first',
				why: 'one pull shows at once what could hurt the engine, and the rest can wait'
			}
		],
		does: 'Decides which drive plan is offered for a job that has none yet.'
	},
	{
		id: 'cylinderEvidence',
		title: 'Evidence of a cylinder',
		schools: [
			{
				value: 'lambda',
				title: 'its own lambda',
				why: 'a sensor in each port measures; plugs are read by eye'
			},
			{
				value: 'plugs',
				title: 'its plug',
				why: 'the plug shows heat and fuel together, and every pass of a session'
			}
		],
		does: 'Decides which is followed where both speak of a cylinder. Where they contradict each other nothing is proposed.'
	}
];

/** What isn't chosen here: what Tanto does, why, and where it is set. */
export interface Settled {
	title: string;
	does: string;
	why: string;
	/** Page, or whose matter it is. */
	where: string;
}

export const SETTLED: readonly Settled[] = [
	{
		title: 'Air and fuel model',
		does: 'pulse width, VE or MAF curve, each corrected and compared in its own terms',
		why: 'it is the controller’s',
		where: 'the calibration'
	},
	{
		title: 'Mixture shown',
		does: 'lambda, AFR on the petrol scale, or AFR of the real fuel; stored as lambda',
		why: 'one number of one place, read as each reader is used to',
		where: 'units at the top, for each reader'
	},
	{
		title: 'Two sensors that disagree',
		does: 'agreement of independent sources decides; until then the leaner one is believed, and no fuel comes out there',
		why: 'a sensor that reads rich costs an engine, one that reads lean costs fuel',
		where: 'not a choice'
	},
	{
		title: 'Banks that disagree',
		does: 'boost, timing and less fuel are held until the cause is found; what the leaner bank needs can be added to both',
		why: 'an average of two banks is right for neither',
		where: 'the root cause of a job'
	},
	{
		title: 'Cells of a table',
		does: 'a sample speaks for the four cells around it, or for the nearest one',
		why: 'every sample is used, and no edge of a cell is favoured',
		where: 'settings of a proposal, for each tuner'
	},
	{
		title: 'One reference cylinder or the median',
		does: 'the median of the others, or the good cylinder that the tuner chose',
		why: 'a tuner may know a cylinder to be good by its plug',
		where: 'the cylinders of a job'
	},
	{
		title: 'Full-throttle target',
		does: 'the target of the calibration; one that is lean itself is said',
		why: 'what a target should be is the tuner’s decision',
		where: 'the calibration'
	},
	{
		title: 'Injector duty',
		does: '80 % watch, 85 % fix, 95 % stop',
		why: 'beyond them an injector no longer closes between two pulses',
		where: 'limits of the vehicle'
	},
	{
		title: 'Octane of high-ethanol blends',
		does: '100 for 85 % ethanol',
		why: 'the safer one of 100 and 105',
		where: 'not a choice'
	},
	{
		title: 'Dyno, road or track',
		does: 'all of them, with the source noted on each log, never mixed silently',
		why: 'each has its own day, load and speed',
		where: 'each log'
	}
];
