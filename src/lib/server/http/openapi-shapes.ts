/** The parts that a description of the server is put together from. */
import { calibrationSchema } from '$core/calibration/document.ts';
import { comparisonSchema } from '$core/calibration/comparison-schema.ts';
import { maximaSchema } from '$core/evidence/maxima.ts';
import { goalSchema } from '$core/fuelling/goal.ts';
import { plugsSchema } from '$core/plugs/document.ts';
import { proposalSchema } from '$core/revising/proposal.ts';
import { replaySchema } from '$core/revising/replay-schema.ts';
import { swapSchema } from '$core/swaps/document.ts';
import { strategySchema } from '$core/correction/strategy.ts';
import { requirementSchema } from '$core/correction/view.ts';
import { draftBodySchema } from './draft-body.ts';
import { reportSchema } from '$core/screening/report.ts';

/** Shared documents: they stand once, under `components`. */
export const DOCUMENTS = {
	Calibration: calibrationSchema,
	Comparison: comparisonSchema,
	Goal: goalSchema,
	Maxima: maximaSchema,
	Plugs: plugsSchema,
	Swap: swapSchema,
	Proposal: proposalSchema,
	Replay: replaySchema,
	Requirement: requirementSchema,
	Report: reportSchema,
	Strategy: strategySchema,
	DraftBody: draftBodySchema
} as const;
type DocumentName = keyof typeof DOCUMENTS;

export type Shape = Record<string, unknown>;
export const ref = (name: DocumentName): Shape => ({ $ref: `#/components/schemas/${name}` });
export const jsonOf = (schema: Shape, description: string): Shape => ({
	description,
	content: { 'application/json': { schema } }
});
export const bytes = (description: string, type = 'application/octet-stream'): Shape => ({
	description,
	content: { [type]: { schema: { type: 'string', format: 'binary' } } }
});
export const refused = jsonOf(
	{ type: 'object', properties: { message: { type: 'string' } }, required: ['message'] },
	'Refused, with one message that says what, where, and what to do; nothing was stored.'
);
export const query = (name: string, schema: Shape, description: string, required = false): Shape => ({
	name,
	in: 'query',
	required,
	description,
	schema
});
export const text: Shape = { type: 'string' };
export const number: Shape = { type: 'number' };
export const choice = (...of: string[]): Shape => ({ type: 'string', enum: of });
export const object = (properties: Record<string, Shape>): Shape => ({
	type: 'object',
	properties,
	required: Object.keys(properties)
});

export interface Operation {
	summary: string;
	parameters?: Shape[];
	body?: Shape;
	answer: Shape;
	/** Status of a success, 200 when missing. */
	status?: number;
}
