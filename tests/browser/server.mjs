/** The built servers for the browser tests: each on a fresh copy of the demo world in the test results. Arguments: their addresses. */
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
const servers = [];
for (const address of process.argv.slice(2)) {
	const { port } = new URL(address);
	cpSync(world, join(data, port), { recursive: true });
	const server = spawn(process.execPath, [join(root, 'build', 'index.js')], {
		cwd: root,
		stdio: 'inherit',
		env: {
			...process.env,
			HOST: '127.0.0.1',
			PORT: port,
			ORIGIN: address,
			BODY_SIZE_LIMIT: 'Infinity',
			TANTO_DATA_DIR: join(data, port),
			TANTO_DEMO: '1',
			TANTO_LOG_LEVEL: 'warn'
		}
	});
	servers.push(server);
	server.on('exit', (code) => {
		for (const other of servers) other.kill();
		process.exit(code ?? 0);
	});
	// One after the other: whoever waits for the last has them all.
	for (const answers = () => fetch(`${address}/healthz`).then(Boolean, () => false); !(await answers());)
		await new Promise((r) => setTimeout(r, 100));
}
for (const signal of ['SIGTERM', 'SIGINT'])
	process.on(signal, () => {
		for (const server of servers) server.kill(signal);
	});
