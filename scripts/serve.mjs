/** Starts the built server on 127.0.0.1 and prints its address; the first free port from the wanted one on. */
import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { root } from './ensure-install.mjs';

function free(port) {
	return new Promise((resolve) => {
		const probe = createServer();
		probe.once('error', () => resolve(false));
		probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
	});
}

async function answers(url) {
	for (let i = 0; i < 150; i++) {
		const ok = await fetch(url).then(
			(r) => r.status < 500,
			() => false
		);
		if (ok) return true;
		await new Promise((r) => setTimeout(r, 100));
	}
	return false;
}

export async function serve({ dataDir, env = {} }) {
	let port = Number(process.env.PORT || 4173);
	if (!Number.isInteger(port) || port < 1 || port > 65535) {
		console.error(`PORT is "${process.env.PORT}": give a number from 1 to 65535.`);
		process.exit(1);
	}
	// A port that somebody chose is meant: a proxy would go on asking there. Without one the next that is free will do.
	if (process.env.PORT && !(await free(port))) {
		console.error(`Port ${port} is in use by another program: end that one, or choose another with PORT.`);
		process.exit(1);
	}
	while (!(await free(port))) port++;
	const address = `http://127.0.0.1:${port}`;
	console.error(`Starting on ${dataDir} (a few seconds) …`);
	const child = spawn(process.execPath, [join(root, 'build', 'index.js')], {
		cwd: root,
		stdio: ['ignore', 'inherit', 'inherit'],
		env: {
			TANTO_LOG_LEVEL: 'warn',
			ORIGIN: address,
			...process.env,
			HOST: process.env.TANTO_HOST ?? '127.0.0.1',
			PORT: String(port),
			// Uploads are streamed and limited by the routes that take them.
			BODY_SIZE_LIMIT: 'Infinity',
			TANTO_DATA_DIR: dataDir,
			...env
		}
	});
	for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => child.kill(signal));
	child.once('exit', (code) => process.exit(code ?? 0));
	if (await answers(address)) console.log(`\nTanto is at ${address}  (Ctrl+C ends it)\n`);
	else {
		console.error(`The server did not answer at ${address}; see its messages above.`);
		child.kill();
	}
}
