/** The document of a replay: `tanto.replay/1`. */
import { z } from 'zod';

const bins = z.array(z.number().nullable());
const beforeAfter = z.object({ before: bins, after: bins });

export const replaySchema = z.object({
	schema: z.literal('tanto.replay/1'),
	pulls: z.array(
		z.object({
			from: z.number(),
			to: z.number(),
			gear: z.number().optional(),
			/** Middles of 250 rpm bins. */
			rpm: z.array(z.number()),
			target: beforeAfter,
			lambda: beforeAfter,
			spark: beforeAfter,
			duty: beforeAfter,
			/** Fuel that goes in, percent of before. */
			fuelPct: bins,
			summary: z.object({
				/** Leanest against the target of its revision, percent. */
				leanestPct: z.tuple([z.number().nullable(), z.number().nullable()]),
				leanestLambda: z.tuple([z.number().nullable(), z.number().nullable()]),
				sparkMaxDeg: z.tuple([z.number().nullable(), z.number().nullable()]),
				dutyPct: z.tuple([z.number().nullable(), z.number().nullable()]),
				/** The same on the worst day of the profile. */
				dutyWorstDayPct: z.tuple([z.number().nullable(), z.number().nullable()])
			})
		})
	),
	/** Error against target over the cells of the fuel table, percent, before and predicted; null where nothing was driven. */
	map: z
		.object({
			item: z.string(),
			xChannel: z.string(),
			xUnit: z.string().optional(),
			yChannel: z.string(),
			yUnit: z.string().optional(),
			x: z.array(z.number()),
			y: z.array(z.number()),
			before: z.array(z.array(z.number().nullable())),
			after: z.array(z.array(z.number().nullable())),
			samples: z.array(z.array(z.number()))
		})
		.nullable(),
	/** Cells that the log visited and that stay off by more than 3 %. */
	left: z.array(z.object({ x: z.number(), y: z.number(), errorPct: z.number(), samples: z.number() })),
	/** Of each cylinder whose lambda was logged, how much leaner than its target it is under load, percent, by 500 rpm. */
	cylinders: z
		.array(
			z.object({
				cylinder: z.number(),
				places: z.array(
					z.object({ rpm: z.tuple([z.number(), z.number()]), before: z.number(), after: z.number() })
				)
			})
		)
		.optional(),
	/** Changed cells that the log says nothing about. */
	unproven: z.array(z.object({ item: z.string(), cells: z.number() })),
	/** What goes beyond a limit of the profile. */
	beyond: z.array(
		z.object({
			what: z.string(),
			value: z.number(),
			limit: z.number(),
			unit: z.string(),
			severity: z.enum(['stop', 'fix', 'watch'])
		})
	),
	/** What this can't know. */
	unknown: z.array(z.string())
});
export type Replay = z.infer<typeof replaySchema>;
