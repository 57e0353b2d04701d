/** Spark plugs as they were read after a pass: `tanto.plugs/1`. */
import { z } from 'zod';
import { MAX_CYLINDERS } from '../channels/canonical.ts';
import { InputError } from '../input-error.ts';
import { parseWith } from '../parse.ts';
import { HEAT_MARKS, PLATINGS, PLUG_FLAGS } from './marks.ts';

export const plugReadingSchema = z.looseObject({
	cylinder: z.number().int().min(1).max(MAX_CYLINDERS),
	plating: z.enum(PLATINGS).optional(),
	mark: z.enum(HEAT_MARKS).optional(),
	flags: z.array(z.enum(PLUG_FLAGS)).max(PLUG_FLAGS.length).optional(),
	note: z.string().max(500).optional()
});
export type PlugReading = z.infer<typeof plugReadingSchema>;

export const plugsSchema = z
	.looseObject({
		schema: z.literal('tanto.plugs/1'),
		heatRange: z.number().min(1).max(40).optional(),
		/** Which way the maker's numbers count. */
		rangeCounts: z.enum(['higher-is-colder', 'higher-is-hotter']).optional(),
		plated: z.boolean(),
		newForSession: z.boolean(),
		passes: z.number().int().min(0).max(1000),
		/** The engine was switched off at the end of the pass; driven back, a plug shows the way back. */
		cutAfterPass: z.boolean(),
		fuel: z.string().max(200).optional(),
		/** Highest boost since the plugs were new, kPa absolute. */
		boostKpa: z.number().min(20).max(1000).optional(),
		readings: z.array(plugReadingSchema).min(1).max(MAX_CYLINDERS)
	})
	.superRefine((p, issues) => {
		p.readings.forEach((r, i) => {
			if (p.readings.findIndex((o) => o.cylinder === r.cylinder) < i)
				issues.addIssue({
					code: 'custom',
					path: ['readings', i, 'cylinder'],
					message: `cylinder ${r.cylinder} was read twice: keep one reading of it`
				});
		});
	});
export type Plugs = z.infer<typeof plugsSchema>;

/** @throws InputError naming the path of the first fault */
export function parsePlugs(input: unknown): Plugs {
	return parseWith(plugsSchema, input);
}

/** @throws InputError for a plug of a cylinder that the engine doesn't have */
export function refuseForeignCylinders(plugs: Plugs, cylinders: number): void {
	const i = plugs.readings.findIndex((r) => r.cylinder > cylinders);
	if (i >= 0)
		throw new InputError(
			`there is no cylinder ${plugs.readings[i]!.cylinder}: the engine has ${cylinders}`,
			`readings[${i}].cylinder`
		);
}
