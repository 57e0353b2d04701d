/** A proposal: what to change in a revision, cell by cell with its evidence, and what was held back and why. */
import { z } from 'zod';

export const cellChangeSchema = z.object({
	/** Axis values of the cell. */
	x: z.number(),
	y: z.number(),
	from: z.number(),
	to: z.number(),
	basis: z.enum(['measured', 'carried']),
	/** Effective number of samples; 0 for carried cells. */
	samples: z.number(),
	/** Standard error of the measured correction in percent (fuel) or 0; `null` where it isn't known. */
	se: z.number().nullable()
});

export const itemProposalSchema = z.object({
	item: z.string(),
	cells: z.array(cellChangeSchema),
	reason: z.string(),
	/** Codes of the findings behind it. */
	findings: z.array(z.string())
});

export const heldSchema = z.object({
	item: z.string(),
	/** The finding that holds it, where there is one. */
	code: z.string().optional(),
	reason: z.string()
});

export const proposalSchema = z.object({
	changes: z.array(itemProposalSchema),
	held: z.array(heldSchema),
	/** Stop-gaps that a person may choose; never accepted by themselves. */
	offers: z.array(itemProposalSchema).optional()
});

export type CellChange = z.infer<typeof cellChangeSchema>;
export type ItemProposal = z.infer<typeof itemProposalSchema>;
export type Held = z.infer<typeof heldSchema>;
export type Proposal = z.infer<typeof proposalSchema>;
