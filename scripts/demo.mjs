/** `npm run demo`: installs, builds, seeds the demo world into its own folder, starts, prints the address. `-- --fresh` starts over. */
import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuild } from './ensure-build.mjs';
import { ensureInstall, root, run } from './ensure-install.mjs';
import { serve } from './serve.mjs';

const dataDir = join(root, 'demo-data');
const seeded = join(dataDir, 'seeded');

ensureInstall();
ensureBuild();
if (process.argv.includes('--fresh') || !existsSync(seeded)) {
	rmSync(dataDir, { recursive: true, force: true });
	run(
		process.execPath,
		['scripts/run-ts.mjs', 'scripts/demo/seed.ts', dataDir],
		'Making the demo world (about a minute and a half)'
	);
}
await serve({ dataDir, env: { TANTO_DEMO: '1' } });
