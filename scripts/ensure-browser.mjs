/** Debian's Chromium for the browser tests: installed when it is missing and this user may, else named. */
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { run } from './ensure-install.mjs';

const CHROMIUM = '/usr/bin/chromium';

export function ensureBrowser() {
	if (existsSync(CHROMIUM)) return;
	const may = process.getuid?.() === 0 && spawnSync('apt-get', ['--version']).status === 0;
	if (!may) {
		process.stderr.write(
			`The browser tests need ${CHROMIUM}: install Debian's package "chromium" (apt-get install chromium), then run npm test again.\n`
		);
		process.exit(1);
	}
	run('apt-get', ['update', '-qq'], 'Refreshing the package lists');
	run('apt-get', ['install', '-y', '-qq', 'chromium'], 'Installing Chromium');
}
