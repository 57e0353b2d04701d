import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';
import { serverWorkers } from './scripts/vite-server-workers.mjs';

export default defineConfig({
	plugins: [serverWorkers(), tailwindcss(), sveltekit()],
	worker: { format: 'es' },
	test: {
		include: ['src/**/*.test.ts', 'tests/reference/**/*.test.ts'],
		environment: 'node',
		// All there are: by itself one is left idle, which is half of a machine with two.
		maxWorkers: '100%',
		testTimeout: 60_000,
		hookTimeout: 60_000
	}
});
