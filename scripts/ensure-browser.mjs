/** Debian's Chromium for the browser tests: installed when it is missing and this user may, else named. */
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { SHELL, WHOLE } from './chromium.mjs';
import { run } from './ensure-install.mjs';

export function ensureBrowser() {
	if (existsSync(SHELL)) return;
	const may = process.getuid?.() === 0 && spawnSync('apt-get', ['--version']).status === 0;
	if (may) {
		process.stderr.write('Installing the headless Chromium …\n');
		const install = () =>
			spawnSync('apt-get', ['install', '-y', '-qq', 'chromium-headless-shell']).status === 0;
		if (install()) return;
		spawnSync('apt-get', ['update', '-qq']);
		if (install()) return;
	}
	// The whole browser does as well; it takes a fifth longer.
	if (existsSync(WHOLE)) return;
	if (may) run('apt-get', ['install', '-y', '-qq', 'chromium'], 'Installing Chromium');
	else {
		process.stderr.write(
			`The browser tests need ${SHELL} or ${WHOLE}: install Debian's package "chromium-headless-shell" (apt-get install chromium-headless-shell), then run npm test again.\n`
		);
		process.exit(1);
	}
}
