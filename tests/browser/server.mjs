/** The built server for the browser tests: a fresh copy of the demo world in the test results, on a fixed port. */
import { spawn, spawnSync } from 'node:child_process';
import { cpSync, existsSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ensureBuild } from '../../scripts/ensure-build.mjs';

const root = join(dirname(fileURLToPath(import.meta.url)), '..', '..');
const world = join(root, 'node_modules', '.cache', 'tanto', 'test-world');
const data = join(root, 'test-results', 'data');

ensureBuild();
rmSync(world, { recursive: true, force: true });
const seeded = spawnSync(process.execPath, ['scripts/run-ts.mjs', 'scripts/demo/seed.ts', world], {
	cwd: root,
	stdio: 'inherit'
});
if (seeded.status !== 0 || !existsSync(join(world, 'seeded'))) process.exit(1);
rmSync(data, { recursive: true, force: true });
cpSync(world, data, { recursive: true });
const server = spawn(process.execPath, [join(root, 'build', 'index.js')], {
	cwd: root,
	stdio: 'inherit',
	env: {
		...process.env,
		HOST: '127.0.0.1',
		PORT: '4391',
		ORIGIN: 'http://127.0.0.1:4391',
		BODY_SIZE_LIMIT: 'Infinity',
		TANTO_DATA_DIR: data,
		TANTO_DEMO: '1',
		TANTO_LOG_LEVEL: 'warn'
	}
});
for (const signal of ['SIGTERM', 'SIGINT'])
	process.on(signal, () => {
		server.kill(signal);
	});
server.on('exit', (code) => process.exit(code ?? 0));
