import { createNodeResolver, importX } from 'eslint-plugin-import-x';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

/** The core from the ground up; folders between brackets share a floor and don't know each other. */
const HOUSE = [
	['input-error.ts', 'format.ts', 'units', 'stats'],
	['parse.ts'],
	['channels'],
	['request.ts', 'swap-kind.ts'],
	['logfile'],
	['limits'],
	['vehicle'],
	['calibration'],
	['evidence'],
	['screening'],
	['correction'],
	['revising'],
	['planning', 'performance'],
	['swaps', 'plugs', 'fuelling', 'delivered'],
	['climbing'],
	['simulator']
];
const place = (name) => `./src/core/${name}`;
const FLOORS = HOUSE.flatMap((floor, n) =>
	floor.map((name) => ({
		target: place(name),
		from: [...floor.filter((other) => other !== name), ...HOUSE.slice(n + 1).flat(), 'testing'].map(place),
		message: 'this points to a floor above, or to a neighbour'
	}))
);

export default ts.config(
	{ ignores: ['build/', '.svelte-kit/', 'node_modules/', 'data/', 'demo-data/', 'test-results/', 'docs/'] },
	...ts.configs.recommended,
	...svelte.configs.recommended,
	{
		languageOptions: { globals: { ...globals.browser, ...globals.node } },
		rules: {
			'@typescript-eslint/no-explicit-any': 'error',
			// Typed arrays are indexed inside their bounds all over the numeric code.
			'@typescript-eslint/no-non-null-assertion': 'off',
			'@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
			'svelte/no-navigation-without-resolve': 'off'
		}
	},
	{
		files: ['src/**/*.ts'],
		plugins: { 'import-x': importX },
		settings: {
			'import-x/resolver-next': [createNodeResolver({ extensions: ['.ts', '.svelte.ts', '.js'] })],
			'import-x/parsers': { '@typescript-eslint/parser': ['.ts'] }
		},
		rules: { 'import-x/no-cycle': ['error', { ignoreExternal: true }] }
	},
	{
		// An import only ever points to the same floor or below. Tests, and what is made for tests, may look down from anywhere.
		files: ['src/core/**/*.ts'],
		ignores: ['src/core/**/*.test.ts', 'src/core/testing/**'],
		rules: { 'import-x/no-restricted-paths': ['error', { basePath: import.meta.dirname, zones: FLOORS }] }
	},
	{
		files: ['src/core/**/*.ts'],
		rules: {
			'no-restricted-imports': [
				'error',
				{ patterns: ['$lib/*', '**/lib/**', '**/routes/**', 'node:*', 'svelte', 'svelte/*', 'kysely'] }
			]
		}
	},
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: {
			parserOptions: {
				projectService: true,
				extraFileExtensions: ['.svelte'],
				parser: ts.parser,
				svelteConfig
			}
		}
	}
);
