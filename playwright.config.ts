import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './scripts/chromium.ts';

const OWN_SERVER = /(day|door|full-disk|kill)\.spec\.ts$/;

export default defineConfig({
	testDir: 'tests/browser',
	// Of its own: Playwright empties this folder when it starts.
	outputDir: 'test-results/browser',
	timeout: 120_000,
	expect: { timeout: 15_000 },
	workers: 2,
	// Those with servers of their own share nothing with the demo's server, which one test at a time may change.
	projects: [
		{ name: 'demo', testIgnore: OWN_SERVER, workers: 1 },
		{ name: 'own server', testMatch: OWN_SERVER, workers: 1 }
	],
	reporter: [['list'], ['json', { outputFile: 'test-results/browser.json' }]],
	use: {
		baseURL: 'http://127.0.0.1:4391',
		viewport: { width: 1280, height: 800 },
		screenshot: 'only-on-failure',
		launchOptions: CHROMIUM
	},
	// The built server on a data folder of its own, seeded with the demo world.
	webServer: {
		command: 'node tests/browser/server.mjs',
		url: 'http://127.0.0.1:4391',
		timeout: 180_000,
		reuseExistingServer: false,
		gracefulShutdown: { signal: 'SIGTERM', timeout: 5000 }
	}
});
