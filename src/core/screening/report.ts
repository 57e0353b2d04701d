/** The screening report: `tanto.screen/1`, data that page, command line and interface render alike. */
import { z } from 'zod';

const range = z.object({ from: z.number(), to: z.number() });

/** A number with its unit, a name, a yes or no, or several of them: what the words of a finding are made of. */
const factSchema = z.object({
	value: z.union([z.number(), z.string(), z.boolean(), z.array(z.number()), z.array(z.string())]),
	unit: z.string().optional()
});

export const findingSchema = z.object({
	/** One of a kind in its report, and the same in another log's for the same thing; absent in reports of before. */
	id: z.string().optional(),
	code: z.string(),
	/** Tells two findings of one check about one subject apart: what of it. */
	kind: z.string().optional(),
	severity: z.enum(['stop', 'fix', 'watch', 'note']),
	title: z.string(),
	/** One sentence with the numbers. */
	summary: z.string(),
	/** Both with their quantities marked, for a reader with other units; absent where there are none. */
	said: z.object({ title: z.string(), summary: z.string() }).optional(),
	/** Signed: lean positive, bank 2 / bank 1 − 1. */
	value: z.number().optional(),
	limit: z.number().optional(),
	unit: z.string().optional(),
	bank: z.union([z.literal(1), z.literal(2)]).optional(),
	cylinder: z.number().int().optional(),
	ranges: z.array(range).optional(),
	region: z
		.object({
			rpm: z.tuple([z.number(), z.number()]).optional(),
			map: z.tuple([z.number(), z.number()]).optional()
		})
		.optional(),
	/** By name; `value` and `limit` are among them. */
	facts: z.record(z.string(), factSchema).optional(),
	/** The finding that explains this one: it steps back to a note behind it. */
	because: z.string().optional(),
	channels: z.array(z.string()),
	/** In the order to look. */
	causes: z.array(z.string()),
	next: z.array(z.string())
});

export const checkSchema = z.object({
	code: z.string(),
	outcome: z.enum(['pass', 'found', 'not-checked']),
	/** What a passing check saw, or why nothing could be said. */
	reason: z.string().optional(),
	/** The same with its quantities marked. */
	said: z.string().optional(),
	/** What would make a check possible that wasn't: a channel, a vehicle fact, a kind of driving. */
	missing: z.string().optional()
});

export const reportSchema = z.object({
	schema: z.literal('tanto.screen/1'),
	log: z.object({
		rows: z.number(),
		durationS: z.number(),
		channels: z.array(
			z.object({
				id: z.string(),
				raw: z.string(),
				unit: z.string(),
				rateHz: z.number(),
				note: z.string().optional()
			})
		),
		unmapped: z.array(z.string()),
		notes: z.array(z.string())
	}),
	verdict: z.enum(['stop', 'fix', 'watch', 'clear']),
	findings: z.array(findingSchema),
	checks: z.array(checkSchema),
	segments: z.array(
		z.object({ kind: z.string(), from: z.number(), to: z.number(), gear: z.number().optional() })
	)
});

export type Report = z.infer<typeof reportSchema>;
export type CheckLine = z.infer<typeof checkSchema>;
