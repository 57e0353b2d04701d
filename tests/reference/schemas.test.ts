/** The published JSON Schemas are those of the code. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { SCHEMAS, schemaText } from '../../scripts/write-schemas.ts';

describe('docs/schemas', () => {
	it.each(Object.entries(SCHEMAS))('%s.json is up to date (npm run schemas writes it)', (name, schema) => {
		expect(readFileSync(`docs/schemas/${name}.json`, 'utf8')).toBe(schemaText(schema));
	});
});
