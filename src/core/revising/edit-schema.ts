/** What a draft holds beside its parent: changes of cells, and edits that are more than cells. */
import { z } from 'zod';
import { itemSchema, settingSchema } from '../calibration/document.ts';
import { cellChangeSchema } from './proposal.ts';

/** A change in a draft: accepted from a proposal, or made by hand, with its reason. Curves have y = 0, scalars x = y = 0. */
export const draftChangeSchema = cellChangeSchema.extend({
	item: z.string(),
	basis: z.enum(['measured', 'carried', 'hand']),
	reason: z.string().max(2000),
	findings: z.array(z.string())
});
export type DraftChange = z.infer<typeof draftChangeSchema>;

const axis = z.object({
	channel: z.string().max(100),
	unit: z.string().max(100).optional(),
	points: z.array(z.number()).min(2).max(1000).readonly(),
	scale: z.number().positive()
});

export const draftEditSchema = z.discriminatedUnion('kind', [
	z.object({
		kind: z.literal('setting'),
		item: z.string(),
		to: settingSchema.shape.value,
		reason: z.string().max(2000)
	}),
	z.object({
		kind: z.literal('axes'),
		item: z.string(),
		x: axis,
		/** Null for a curve. */
		y: axis.nullable(),
		reason: z.string().max(2000)
	}),
	z.object({
		kind: z.literal('added'),
		item: z.string(),
		to: itemSchema,
		reason: z.string().max(2000)
	})
]);
export type DraftEdit = z.infer<typeof draftEditSchema>;
export type AddedEdit = Extract<DraftEdit, { kind: 'added' }>;
export type AxesEdit = Extract<DraftEdit, { kind: 'axes' }>;
