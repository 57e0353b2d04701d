import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';

// Components and modules with runes alone: plain TypeScript is read by oxlint (`.oxlintrc.json`), in a second. What may import what stands in
// `.dependency-cruiser.mjs`.
export default ts.config(
	{
		ignores: [
			'build/',
			'.svelte-kit/',
			'node_modules/',
			'data/',
			'demo-data/',
			'test-results/',
			'docs/',
			'**/*.{js,mjs,cjs,ts}',
			'!**/*.svelte.ts'
		]
	},
	...ts.configs.recommended,
	...svelte.configs.recommended,
	{
		// No rule here asks for types, so none are worked out.
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: {
			globals: { ...globals.browser, ...globals.node },
			parserOptions: { parser: ts.parser }
		},
		rules: {
			'@typescript-eslint/no-explicit-any': 'error',
			// Typed arrays are indexed inside their bounds all over the numeric code.
			'@typescript-eslint/no-non-null-assertion': 'off',
			'@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
			'svelte/no-navigation-without-resolve': 'off'
		}
	}
);
