#!/usr/bin/env node
/** The commands: the same core as the web application, from the build's bundle where it is as new as the sources, else straight from TypeScript. */
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const bundle = join(root, 'build', 'cli', 'main.mjs');

/** Whether anything that the commands are made of was changed since `time`. */
function changedSince(time, folder) {
	return readdirSync(folder, { withFileTypes: true }).some((entry) => {
		const path = join(folder, entry.name);
		return entry.isDirectory() ? changedSince(time, path) : statSync(path).mtimeMs > time;
	});
}

async function load() {
	const sources = ['core', 'cli'].map((name) => join(root, 'src', name));
	if (existsSync(bundle)) {
		const time = statSync(bundle).mtimeMs;
		if (!sources.some((folder) => changedSince(time, folder))) return import(pathToFileURL(bundle).href);
	}
	const { ensureInstall } = await import('../scripts/ensure-install.mjs');
	ensureInstall();
	const { register } = await import('tsx/esm/api');
	register();
	return import('../src/cli/main.ts');
}

const { main } = await load();
process.exitCode = await main(process.argv.slice(2));
