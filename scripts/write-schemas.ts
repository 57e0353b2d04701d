/** Writes a JSON Schema for every document of Tanto into `docs/schemas`, generated from the Zod schemas that the code validates with. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { z } from 'zod';
import { calibrationSchema } from '../src/core/calibration/document.ts';
import { layoutSchema } from '../src/core/calibration/tables/layout.ts';
import { requirementSchema } from '../src/core/correction/view.ts';
import { goalSchema } from '../src/core/fuelling/goal.ts';
import { plugsSchema } from '../src/core/plugs/document.ts';
import { requestSchema } from '../src/core/request.ts';
import { proposalSchema } from '../src/core/revising/proposal.ts';
import { replaySchema } from '../src/core/revising/replay-schema.ts';
import { reportSchema } from '../src/core/screening/report.ts';
import { swapSchema } from '../src/core/swaps/document.ts';
import { maximaSchema } from '../src/core/evidence/maxima.ts';
import { readingsSchema } from '../src/core/evidence/readings.ts';
import { conditionsSchema } from '../src/core/vehicle/conditions.ts';
import { vehicleSchema } from '../src/core/vehicle/document.ts';

export const SCHEMAS = {
	vehicle: vehicleSchema,
	calibration: calibrationSchema,
	request: requestSchema,
	screen: reportSchema,
	proposal: proposalSchema,
	replay: replaySchema,
	requirement: requirementSchema,
	layout: layoutSchema,
	swap: swapSchema,
	plugs: plugsSchema,
	goal: goalSchema,
	conditions: conditionsSchema,
	readings: readingsSchema,
	maxima: maximaSchema
};

export function schemaText(schema: z.ZodType): string {
	return `${JSON.stringify(z.toJSONSchema(schema), null, '\t')}\n`;
}

if (process.argv[1]?.endsWith('write-schemas.ts')) {
	mkdirSync('docs/schemas', { recursive: true });
	for (const [name, schema] of Object.entries(SCHEMAS))
		writeFileSync(`docs/schemas/${name}.json`, schemaText(schema));
}
