import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './scripts/chromium.ts';
import { ACCESS_ADDRESS, ADDRESS } from './tests/browser/addresses.ts';

const ACCESS = /access\.spec\.ts$/;
const OWN_SERVER = /(day|door|full-disk|kill)\.spec\.ts$/;

export default defineConfig({
	testDir: 'tests/browser',
	// Of its own: Playwright empties this folder when it starts.
	outputDir: 'test-results/browser',
	timeout: 120_000,
	expect: { timeout: 15_000 },
	workers: 2,
	// Each project has servers of its own, so two of them run side by side; the server of one is changed by one test at a time.
	projects: [
		{ name: 'demo', testIgnore: [OWN_SERVER, ACCESS], workers: 1 },
		{ name: 'own server', testMatch: OWN_SERVER, workers: 1 },
		{ name: 'access', testMatch: ACCESS, workers: 1, use: { baseURL: ACCESS_ADDRESS } }
	],
	reporter: [['list'], ['json', { outputFile: 'test-results/browser.json' }]],
	use: {
		baseURL: ADDRESS,
		viewport: { width: 1280, height: 800 },
		screenshot: 'only-on-failure',
		launchOptions: CHROMIUM
	},
	// Two built servers, each on a data folder of its own with the demo world; the second comes up last.
	webServer: {
		command: `node tests/browser/server.mjs ${ADDRESS} ${ACCESS_ADDRESS}`,
		url: ACCESS_ADDRESS,
		timeout: 600_000,
		reuseExistingServer: false,
		gracefulShutdown: { signal: 'SIGTERM', timeout: 5000 }
	}
});
