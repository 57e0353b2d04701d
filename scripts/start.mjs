/** `npm start`: the server on real data, in `TANTO_DATA_DIR` (default `./data`). */
import { resolve } from 'node:path';
import { ensureBuild } from './ensure-build.mjs';
import { ensureInstall } from './ensure-install.mjs';
import { serve } from './serve.mjs';

ensureInstall();
ensureBuild();
await serve({
	dataDir: resolve(process.env.TANTO_DATA_DIR ?? './data'),
	env: { TANTO_LOG_LEVEL: process.env.TANTO_LOG_LEVEL ?? 'info' }
});
