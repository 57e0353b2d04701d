import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';
import { checksVersion } from './scripts/checks-version.mjs';
import { serverWorkers } from './scripts/vite-server-workers.mjs';

/** Modules are loaded once for all test files of a worker: no test changes what another one imports. */
const plain = {
	environment: 'node',
	isolate: false,
	testTimeout: 180_000,
	hookTimeout: 180_000
} as const;

export default defineConfig({
	// Said to the built server; its workers are told by their own bundler.
	define: process.env['VITEST'] ? {} : { __CHECKS_VERSION__: JSON.stringify(await checksVersion()) },
	plugins: [serverWorkers(), tailwindcss(), sveltekit()],
	worker: { format: 'es' },
	test: {
		// All there are: by itself one is left idle, which is half of a machine with two.
		maxWorkers: '100%',
		projects: [
			// Plain TypeScript, without the plugins of the application.
			{
				test: {
					name: 'core',
					include: [
						'src/{core,cli}/**/*.test.ts',
						'scripts/**/*.test.ts',
						'tests/{reference,properties}/**/*.test.ts'
					],
					...plain
				}
			},
			{
				resolve: {
					alias: { $core: `${import.meta.dirname}/src/core`, $lib: `${import.meta.dirname}/src/lib` }
				},
				test: {
					name: 'server',
					include: ['src/lib/server/**/*.test.ts', 'src/lib/*.test.ts', 'tests/operation.test.ts'],
					...plain
				}
			},
			// Modules with runes are compiled, and some put stand-ins in the place of imports: each file by itself.
			{
				extends: true,
				test: { name: 'interface', include: ['src/lib/ui/**/*.test.ts'], ...plain, isolate: true }
			}
		]
	}
});
