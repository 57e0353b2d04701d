/** What a program or a page sends to change a draft; also what the description of the interface is made from. */
import { z } from 'zod';
import { draftEditSchema } from '$core/revising/edit-schema.ts';
import { draftChangeSchema } from '$core/revising/edit-schema.ts';

export const draftBodySchema = z.object({
	job: z.number().int().describe('The job that the draft is of.'),
	version: z.number().int().min(0).describe('The version that these changes were made on.'),
	changes: z
		.array(draftChangeSchema)
		.max(200_000)
		.describe('All of them: those that are not named are taken back.'),
	edits: z
		.array(draftEditSchema)
		.max(5000)
		.optional()
		.describe('Settings and axes; kept as they are when missing.'),
	rejected: z
		.array(z.string().max(200))
		.max(200_000)
		.optional()
		.describe('Proposed cells that were decided against, by `item|x|y`; kept as they are when missing.')
});
