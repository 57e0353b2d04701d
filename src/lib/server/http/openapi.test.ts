import { calibrationWith } from '$core/testing/hand-made.ts';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { compare } from '$core/calibration/compare.ts';
import { comparisonSchema } from '$core/calibration/comparison-schema.ts';
import { openApi } from './openapi.ts';

const ROUTES = 'src/routes/api/v1';

/** Paths and methods of the routes as they stand in the folders, in the writing of OpenAPI. */
function routes(): string[] {
	return readdirSync(ROUTES, { recursive: true, encoding: 'utf8' })
		.filter((f) => f.endsWith('+server.ts'))
		.flatMap((f) => {
			const path = `/${f.slice(0, -'/+server.ts'.length).replaceAll(/\[(?:\.\.\.)?(\w+)\]/g, '{$1}')}`;
			const methods = [...readFileSync(join(ROUTES, f), 'utf8').matchAll(/^export const (\w+)/gm)];
			return methods.map(([, m]) => `${m} ${path}`);
		})
		.sort();
}

describe('the description of the interface for programs', () => {
	const document = openApi() as {
		paths: Record<string, Record<string, { summary: string; parameters: { name: string; in: string }[] }>>;
		components: { schemas: Record<string, object> };
	};
	it('names every route, and no other', () => {
		const described = Object.entries(document.paths).flatMap(([path, methods]) =>
			Object.keys(methods).map((m) => `${m.toUpperCase()} ${path}`)
		);
		expect(described.sort()).toEqual(routes());
	});
	it('every parameter in a path is described, every reference leads somewhere', () => {
		for (const [path, methods] of Object.entries(document.paths))
			for (const { parameters, summary } of Object.values(methods)) {
				expect(summary).not.toBe('');
				const names = parameters.filter((p) => p.in === 'path').map((p) => p.name);
				expect(names).toEqual([...path.matchAll(/\{(\w+)\}/g)].map((m) => m[1]));
			}
		for (const [, name] of JSON.stringify(document).matchAll(/#\/components\/schemas\/(\w+)/g))
			expect(document.components.schemas).toHaveProperty(name!);
	});
	it('of a draft names all that a save may carry, from the schema that the route validates with', () => {
		const body = document.components.schemas['DraftBody'] as { properties: object; required: string[] };
		expect(Object.keys(body.properties).sort()).toEqual(['changes', 'edits', 'job', 'rejected', 'version']);
		expect([...body.required].sort()).toEqual(['changes', 'job', 'version']);
	});
	it('a comparison is what its schema says', () => {
		const calibration = (value: number) =>
			calibrationWith(
				[
					{ id: 'fuel.trim', kind: 'scalar', value },
					{
						id: 'maf.curve',
						kind: 'curve',
						x: { channel: 'mafFrequency', points: [1, 2] },
						values: [1, value + 3]
					}
				],
				{ fuelModel: 'maf' }
			);
		const comparison = compare(calibration(0), calibration(2));
		expect(comparison.changes).toHaveLength(2);
		expect(comparisonSchema.parse(comparison)).toEqual(comparison);
	});
});
