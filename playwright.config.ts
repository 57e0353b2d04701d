import { availableParallelism } from 'node:os';
import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './scripts/chromium.mjs';

export default defineConfig({
	testDir: 'tests/browser',
	// Of its own: Playwright empties this folder when it starts.
	outputDir: 'test-results/browser',
	globalSetup: './tests/browser/global-setup.ts',
	timeout: 300_000,
	expect: { timeout: 15_000 },
	// Every spec brings its server along: as many at once as there are cores.
	workers: availableParallelism(),
	// A test that fails is run once more to record a trace of it; one that passes then has failed all the same.
	retries: 1,
	failOnFlakyTests: true,
	reporter: [['list'], ['json', { outputFile: 'test-results/browser.json' }]],
	use: {
		viewport: { width: 1280, height: 800 },
		screenshot: 'only-on-failure',
		trace: 'on-first-retry',
		launchOptions: CHROMIUM
	}
});
