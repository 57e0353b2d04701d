/** One number for what a made thing was made from: as long as it stays the same, nothing has to be made anew. */
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './ensure-install.mjs';

/** @param {string[]} paths files and folders of the project; tests in them don't count */
export function fingerprint(paths) {
	const hash = createHash('sha256');
	const add = (path) => {
		const full = join(root, path);
		if (statSync(full).isDirectory()) for (const name of readdirSync(full).sort()) add(join(path, name));
		else if (!path.endsWith('.test.ts')) hash.update(path).update(readFileSync(full));
	};
	for (const path of paths) add(path);
	return hash.digest('hex');
}

/**
 * Makes a folder anew where it was made from other sources than today's.
 * @param {string} folder what is made; its mark lies in it
 * @param {string[]} sources what it is made from
 * @param {() => void} make fills the folder, or ends the process
 */
export function ensureMade(folder, sources, make) {
	const mark = join(folder, '.sources');
	const now = fingerprint(sources);
	if (existsSync(mark) && readFileSync(mark, 'utf8') === now) return;
	make();
	writeFileSync(mark, now);
}
