/** Builds when a source changed since the last build; the browser tests, the demo and the start all go through here. */
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { root, run } from './ensure-install.mjs';
import { ensureMade } from './fingerprint.mjs';

const SOURCES = [
	'src',
	'static',
	'package-lock.json',
	'svelte.config.js',
	'vite.config.ts',
	'tsconfig.json',
	'scripts/bundle-workers.mjs',
	'scripts/bundle-cli.mjs'
];

export const ensureBuild = () =>
	ensureMade(join(root, 'build'), SOURCES, () =>
		run('npm', ['run', '--silent', 'build'], 'Building (about a minute)')
	);

if (process.argv[1] && import.meta.url === pathToFileURL(process.argv[1]).href) ensureBuild();
