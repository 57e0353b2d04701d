/** Builds when a source changed since the last build; the browser tests, the demo and the start all go through here. */
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root, run } from './ensure-install.mjs';

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

function fingerprint() {
	const hash = createHash('sha256');
	const add = (path) => {
		const full = join(root, path);
		if (statSync(full).isDirectory()) for (const name of readdirSync(full).sort()) add(join(path, name));
		else if (!path.endsWith('.test.ts')) hash.update(path).update(readFileSync(full));
	};
	for (const s of SOURCES) add(s);
	return hash.digest('hex');
}

export function ensureBuild() {
	const stamp = join(root, 'build', '.sources');
	const now = fingerprint();
	if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
	run('npm', ['run', '--silent', 'build'], 'Building (about a minute)');
	writeFileSync(stamp, now);
}
