/** The comparison of two calibrations as it is given to programs. */
import { z } from 'zod';
import type { Comparison } from './compare.ts';

const value = z.union([z.string(), z.number(), z.boolean()]);
const grid = z.array(z.array(z.number()));

export const comparisonSchema: z.ZodType<Comparison> = z.object({
	/** `none` where the fuel models differ, `partly` under any other guard. */
	comparable: z.enum(['all', 'partly', 'none']),
	guards: z.array(z.object({ item: z.string(), why: z.string(), affects: z.array(z.string()) })),
	changes: z.array(
		z.object({
			item: z.string(),
			kind: z.enum(['scalar', 'setting', 'curve', 'map']),
			class: z.enum(['safer', 'riskier', 'neutral', 'unknown']),
			rule: z.string(),
			cellsChanged: z.number(),
			min: z.number(),
			max: z.number(),
			mean: z.number(),
			from: value.optional(),
			to: value.optional(),
			only: z.enum(['a', 'b']).optional()
		})
	) as unknown as z.ZodType<Comparison['changes']>,
	effectiveFuel: z
		.object({ x: z.array(z.number()), y: z.array(z.number()).nullable(), percent: grid })
		.nullable(),
	effectiveTiming: z
		.object({ x: z.array(z.number()), y: z.array(z.number()), degrees: grid, offsetDeg: z.number() })
		.nullable()
});
