/** The log request (drive plan): `tanto.request/1`. */
import { z } from 'zod';
import { parseWith } from './parse.ts';

export const MANOEUVRES = ['idle', 'cruise', 'light', 'medium', 'pull', 'start', 'symptom'] as const;

export const manoeuvreSchema = z.looseObject({
	kind: z.enum(MANOEUVRES),
	count: z.number().int().positive().max(20).optional(),
	gear: z.number().int().min(1).max(12).optional(),
	gears: z.array(z.number().int().min(1).max(12)).max(12).optional(),
	minDurationS: z.number().positive().max(7200).optional(),
	rpm: z.tuple([z.number(), z.number()]).optional(),
	/** What to do, in the customer's words. */
	how: z.string().max(600).optional(),
	/** What counts as done. */
	doneWhen: z.string().max(300).optional()
});

export const requestSchema = z.looseObject({
	schema: z.literal('tanto.request/1'),
	/** What the customer reads over the plan, and what it is for. */
	title: z.string().max(200).optional(),
	purpose: z.string().max(1000).optional(),
	channels: z
		.array(
			z.union([
				z.string().max(60),
				z.looseObject({
					id: z.string().max(60),
					minRateHz: z.number().positive().optional(),
					why: z.string().max(300).optional()
				})
			])
		)
		.max(120)
		.optional(),
	manoeuvres: z.array(manoeuvreSchema).max(40).optional(),
	conditions: z
		.looseObject({
			coolantMinC: z.number().optional(),
			/** Pulls wait until the intake air is down to this much over ambient. */
			intakeOverAmbientMaxC: z.number().optional(),
			ethanolPct: z.number().min(0).max(100).optional(),
			fuelLevelMaxPct: z.number().min(0).max(100).optional(),
			speedCapKmh: z.number().positive().optional(),
			/** Manifold pressure that is not to be passed, kPa absolute. */
			mapMaxKpa: z.number().min(20).max(700).optional()
		})
		.optional(),
	/** Things to do before the engine is started. */
	preparations: z.array(z.string().max(600)).max(40).optional(),
	aborts: z.array(z.string().max(600)).max(40).optional(),
	cautions: z.array(z.string().max(600)).max(40).optional()
});

export type LogRequest = z.infer<typeof requestSchema>;
export type Manoeuvre = z.infer<typeof manoeuvreSchema>;

/** @throws InputError naming the path of the first fault */
export function parseRequest(input: unknown): LogRequest {
	return parseWith(requestSchema, input);
}

export function requestedChannels(request: LogRequest): string[] {
	return (request.channels ?? []).map((c) => (typeof c === 'string' ? c : c.id));
}
