/** The vehicle as a document: `tanto.vehicle/1`. Whatever may be missing, a check that needs it says so. */
import { z } from 'zod';
import { distance } from 'fastest-levenshtein';
import { InputError } from '../input-error.ts';
import { parseWith } from '../parse.ts';
import { LIMITS } from '../limits/profile.ts';

const positive = z.number().positive();
const byRpm = z.array(z.tuple([z.number(), z.number()]));

export const lambdaSensorSchema = z.looseObject({
	channel: z.string(),
	kind: z.enum(['factory', 'independent', 'dyno', 'narrowband']),
	site: z.string().regex(/^(bank1|bank2|collector|cyl\d{1,2})$/),
	pressureCompensated: z.boolean().optional()
});

export const vehicleSchema = z.looseObject({
	schema: z.literal('tanto.vehicle/1'),
	name: z.string().min(1).max(200),
	engine: z.looseObject({
		layout: z.enum(['inline', 'v', 'flat']).optional(),
		cylinders: z.number().int().min(1).max(16),
		banks: z
			.array(z.array(z.number().int().min(1).max(16)))
			.min(1)
			.max(2)
			.optional(),
		firingOrder: z.array(z.number().int()).optional(),
		displacementL: positive.max(30).optional(),
		compressionRatio: positive.max(30).optional(),
		injection: z.enum(['port', 'direct']).optional(),
		aspiration: z.enum(['na', 'turbo', 'supercharged']),
		/** What stays the same on another day: absolute boost, boost over the barometer, the pressure ratio, the charger's shaft speed. */
		boostControl: z.enum(['absolute', 'gauge', 'ratio', 'centrifugal']).optional(),
		idleRpm: positive.max(3000).optional(),
		revLimitRpm: positive.max(20000)
	}),
	controller: z
		.looseObject({
			hardware: z.string().optional(),
			software: z.string().optional(),
			locked: z.array(z.string()).optional(),
			learnedTrimAtFullLoad: z.enum(['applied', 'ignored', 'positive-only']).optional()
		})
		.optional(),
	nitrous: z.looseObject({ shotHp: positive.optional(), kind: z.string().optional() }).optional(),
	transmission: z
		.looseObject({
			type: z.enum(['manual', 'automatic']).optional(),
			gears: z.array(positive).optional(),
			finalDrive: positive.optional(),
			tyreCircumferenceM: positive.optional()
		})
		.optional(),
	massKg: positive.optional(),
	dragAreaM2: positive.optional(),
	fuel: z
		.looseObject({
			name: z.string().optional(),
			ethanolPct: z.number().min(0).max(100).optional(),
			/** Where a logged ethanol content comes from; what is inferred from trims is no witness. */
			ethanolSource: z.enum(['sensor', 'inferred', 'stated']).optional(),
			octaneRon: positive.optional(),
			stoich: z.number().min(5).max(20).optional()
		})
		.optional(),
	injectors: z
		.looseObject({
			flowCcMin: positive.optional(),
			ratedPressureKpa: positive.optional(),
			basePressureKpa: positive.optional(),
			injectionsPerCycle: z.number().int().min(1).max(8).optional(),
			pressureReference: z.enum(['manifold', 'atmosphere', 'controlled']).optional(),
			testFluidKgL: z.number().min(0.5).max(1).optional(),
			windowDeg: z.number().min(10).max(720).optional(),
			deadTimeMs: byRpm.optional()
		})
		.optional(),
	sensors: z
		.looseObject({
			lambda: z.array(lambdaSensorSchema).optional(),
			mapFullScaleKpa: positive.optional(),
			gaugeStoich: z.number().min(5).max(20).optional(),
			baro: z.enum(['own', 'derived']).optional()
		})
		.optional(),
	baselines: z
		.looseObject({
			coolantIdleC: z.tuple([z.number(), z.number()]).optional(),
			idleMapKpa: positive.optional(),
			ambientPressureKpa: positive.optional(),
			fullThrottlePct: positive.max(110).optional(),
			boostKpa: byRpm.optional()
		})
		.optional(),
	limits: z.record(z.string(), z.number()).optional()
});

export type Vehicle = z.infer<typeof vehicleSchema>;

/** @throws InputError naming the path of the first fault */
export function parseVehicle(input: unknown): Vehicle {
	return parseWith(vehicleSchema, input);
}

/**
 * A vehicle from outside: as `parseVehicle`, and its limits have to be limits that a check compares with.
 * @throws InputError naming the path of the first fault, and for an unknown limit the nearest name
 */
export function vehicleFrom(input: unknown): Vehicle {
	const vehicle = parseVehicle(input);
	const known = Object.keys(LIMITS);
	for (const name of Object.keys(vehicle.limits ?? {}))
		if (!known.includes(name))
			throw new InputError(
				`no limit is called "${name.slice(0, 60)}"; the nearest is "${nearestName(name, known)}"`,
				'limits'
			);
	return vehicle;
}

/** The name with the fewest edits from `name` (case counts for nothing). */
function nearestName(name: string, names: readonly string[]): string {
	const plain = name.slice(0, 60).toLowerCase();
	return [...names].sort((a, b) => distance(plain, a.toLowerCase()) - distance(plain, b.toLowerCase()))[0]!;
}
