/** The log request (drive plan): `tanto.request/1`. */
import { z } from 'zod';
import { parseWith } from '../parse.ts';

export const requestSchema = z.looseObject({
	schema: z.literal('tanto.request/1'),
	channels: z
		.array(
			z.union([
				z.string(),
				z.looseObject({
					id: z.string(),
					minRateHz: z.number().positive().optional(),
					why: z.string().optional()
				})
			])
		)
		.optional(),
	manoeuvres: z
		.array(
			z.looseObject({
				kind: z.enum(['idle', 'cruise', 'light', 'medium', 'pull', 'start', 'symptom']),
				count: z.number().int().positive().optional(),
				gear: z.number().int().optional(),
				gears: z.array(z.number().int()).optional(),
				minDurationS: z.number().positive().optional(),
				rpm: z.tuple([z.number(), z.number()]).optional()
			})
		)
		.optional(),
	conditions: z
		.looseObject({
			coolantMinC: z.number().optional(),
			ethanolPct: z.number().optional(),
			fuelLevelMaxPct: z.number().optional()
		})
		.optional(),
	aborts: z.array(z.string()).optional(),
	cautions: z.array(z.string()).optional()
});

export type LogRequest = z.infer<typeof requestSchema>;

/** @throws InputError naming the path of the first fault */
export function parseRequest(input: unknown): LogRequest {
	return parseWith(requestSchema, input);
}

export function requestedChannels(request: LogRequest): string[] {
	return (request.channels ?? []).map((c) => (typeof c === 'string' ? c : c.id));
}
