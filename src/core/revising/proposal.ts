/** A proposal: what to change in a revision, cell by cell with its evidence, and what was held back and why. */
import { z } from 'zod';
import { itemSchema } from '../calibration/document.ts';

export const cellChangeSchema = z.object({
	/** Axis values of the cell. */
	x: z.number(),
	y: z.number(),
	from: z.number(),
	to: z.number(),
	basis: z.enum(['measured', 'carried']),
	/** Effective number of samples; 0 for carried cells. */
	samples: z.number(),
	/** Standard deviation of what the cell wants in percent (fuel), the day's scatter in it; `null` where it isn't known. */
	se: z.number().nullable(),
	/** So much fuel that a misfire could be behind it, and nobody counts them: a person is asked. */
	ask: z.boolean().optional(),
	/** Above the highest load that was driven: as its edge. */
	upwards: z.boolean().optional()
});

export const itemProposalSchema = z.object({
	item: z.string(),
	cells: z.array(cellChangeSchema),
	reason: z.string(),
	/** Codes of the findings behind it. */
	findings: z.array(z.string()),
	/** What kind of offer it is, where it is one. */
	kind: z.enum(['stop-gap', 'level', 'missing', 'target', 'air']).optional(),
	/** The item itself, where the calibration hasn't got it yet. */
	adds: itemSchema.optional()
});

export const heldSchema = z.object({
	item: z.string(),
	/** The finding that holds it, where there is one. */
	code: z.string().optional(),
	reason: z.string()
});

export const followSchema = z.object({
	/** What the error follows: intake air, supply voltage, time since the start. */
	term: z.enum(['iat', 'vbat', 'time']),
	/** Percent of fuel per °C, per V, over the warm-up. */
	slope: z.number(),
	se: z.number(),
	/** Item that such an error belongs into. */
	item: z.string().nullable()
});

/** A drive that would settle something. */
export const nextDriveSchema = z.object({
	kind: z.enum(['cruise', 'light', 'medium', 'pull']),
	gear: z.number().optional(),
	rpm: z.tuple([z.number(), z.number()]),
	/** In the unit of the table's axis of load. */
	load: z.tuple([z.number(), z.number()]).nullable(),
	seconds: z.number(),
	count: z.number(),
	/** Doubt that it takes away per minute of it: sum of what the cells' standard deviations fall by, percent. */
	gainPct: z.number(),
	cells: z.number(),
	why: z.string()
});

/** What a proposal does about a finding. */
export const findingAnswerSchema = z.object({
	/** What makes it the same finding in another log. */
	key: z.string(),
	title: z.string(),
	severity: z.string(),
	does: z.enum(['cleared', 'partly', 'nothing']),
	/** What is left, where and why; or what would help. */
	words: z.string()
});

export const proposalSchema = z.object({
	changes: z.array(itemProposalSchema),
	held: z.array(heldSchema),
	/** The error is nothing but a level: one number instead of every cell. */
	level: z.object({ pct: z.number(), se: z.number() }).nullable().optional(),
	/** What else the error follows. */
	follows: z.array(followSchema).optional(),
	/** The drives that settle most, best first. */
	next: z.array(nextDriveSchema).optional(),
	/** What it does about each finding. */
	answers: z.array(findingAnswerSchema).optional(),
	/** Logs that were given and don't speak for the revision, by their place among them, with the reason. */
	silent: z.array(z.object({ log: z.number(), reason: z.string() })).optional(),
	/** Learned trims are over 2 %: they have to be reset with this revision. */
	resetTrims: z.boolean().optional(),
	/** Stop-gaps that a person may choose; never accepted by themselves. */
	offers: z.array(itemProposalSchema).optional()
});

export type CellChange = z.infer<typeof cellChangeSchema>;
export type ItemProposal = z.infer<typeof itemProposalSchema>;
export type Held = z.infer<typeof heldSchema>;
export type FindingAnswer = z.infer<typeof findingAnswerSchema>;
export type NextDrive = z.infer<typeof nextDriveSchema>;
export type Proposal = z.infer<typeof proposalSchema>;
