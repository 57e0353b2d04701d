/** The rules of the house, each against a planted violation: a rule that finds nothing protects nothing. */
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { cruise, type ICruiseResult } from 'dependency-cruiser';
import { afterEach, beforeEach, expect, it } from 'vitest';
import house from '../.dependency-cruiser.mjs';

const root = join(import.meta.dirname, '..');
let folder: string;
beforeEach(() => {
	folder = mkdtempSync(join(tmpdir(), 'tanto-house-'));
	symlinkSync(join(root, 'node_modules'), join(folder, 'node_modules'));
});
afterEach(() => rmSync(folder, { recursive: true }));

/** Rules that these files break, each with the module that breaks it. */
async function broken(files: Record<string, string>): Promise<string[]> {
	for (const [name, text] of Object.entries(files)) {
		mkdirSync(dirname(join(folder, name)), { recursive: true });
		writeFileSync(join(folder, name), text);
	}
	const { webpackConfig: _, ...options } = house.options as Record<string, unknown>;
	const { output } = await cruise(['src'], { ...options, ruleSet: house, validate: true, baseDir: folder });
	return (output as ICruiseResult).summary.violations.map((v) => `${v.rule.name}: ${v.from}`);
}

const used = { 'src/routes/+page.server.ts': "import '../core/stats/a.ts';\n" };

it('finds nothing where there is nothing', async () => {
	expect(await broken({ ...used, 'src/core/stats/a.ts': 'export const a = 1;\n' })).toEqual([]);
});
it('finds modules that import each other, if only by their types', async () => {
	expect(
		await broken({
			...used,
			'src/core/stats/a.ts': "import type { B } from './b.ts';\nexport type A = B | 1;\n",
			'src/core/stats/b.ts': "import type { A } from './a.ts';\nexport type B = A | 2;\n"
		})
	).toContain('no-circle: src/core/stats/a.ts');
});
it('finds an import of a floor above', async () => {
	expect(
		await broken({
			...used,
			'src/core/stats/a.ts': "import '../screening/b.ts';\n",
			'src/core/screening/b.ts': 'export const b = 1;\n'
		})
	).toEqual(['floor-of-stats: src/core/stats/a.ts']);
});
it('finds an import of a floor of the server above', async () => {
	expect(
		await broken({
			'src/routes/+page.server.ts': "import '../lib/server/logs/a.ts';\n",
			'src/lib/server/logs/a.ts': "import '../use-cases/b.ts';\n",
			'src/lib/server/use-cases/b.ts': 'export const b = 1;\n'
		})
	).toEqual(['server-floor-of-jobs-logs-revisions: src/lib/server/logs/a.ts']);
});
it('finds a query in a route', async () => {
	expect(
		await broken({ 'src/routes/+page.server.ts': "import { sql } from 'kysely';\nexport { sql };\n" })
	).toEqual(['routes-ask-the-server: src/routes/+page.server.ts']);
});
it('finds Node and the library in the core', async () => {
	expect(
		await broken({
			...used,
			'src/core/stats/a.ts': "import 'node:fs';\nimport '../../lib/x.ts';\n",
			'src/lib/x.ts': 'export const x = 1;\n'
		})
	).toEqual(
		expect.arrayContaining(['core-has-no-node: src/core/stats/a.ts', 'core-is-pure: src/core/stats/a.ts'])
	);
});
it('finds a module that nothing leads to', async () => {
	expect(await broken({ ...used, 'src/core/stats/a.ts': '', 'src/core/stats/left.ts': '' })).toEqual([
		expect.stringContaining('nothing-unused')
	]);
});
