/** Makes the demo world that the browser tests copy, when what it is made from changed since the last time. Needs the build. */
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { root, run } from './ensure-install.mjs';
import { ensureMade } from './fingerprint.mjs';

export const DEMO_WORLD = join(root, 'node_modules', '.cache', 'tanto', 'demo-world');
const SOURCES = [
	'src/core',
	'src/lib/server',
	'scripts/demo',
	'scripts/bundle-workers.mjs',
	'package-lock.json'
];

export const ensureDemoWorld = () =>
	ensureMade(DEMO_WORLD, SOURCES, () => {
		rmSync(DEMO_WORLD, { recursive: true, force: true });
		run(
			process.execPath,
			['scripts/run-ts.mjs', 'scripts/demo/seed.ts', DEMO_WORLD],
			'Making the demo world'
		);
	});

if (process.argv[1] && import.meta.url === pathToFileURL(process.argv[1]).href) ensureDemoWorld();
