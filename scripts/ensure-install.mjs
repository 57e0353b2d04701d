/** Installs the packages when what is installed isn't what the lock file says; says what it does on standard error. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));

/** Runs a command with its output on standard error; ends the process when it fails. */
export function run(command, args, what) {
	process.stderr.write(`${what} …\n`);
	const result = spawnSync(command, args, { cwd: root, stdio: ['ignore', 2, 2] });
	if (result.status !== 0) {
		process.stderr.write(`${what} failed (${command} ${args.join(' ')}).\n`);
		process.exit(1);
	}
}

/**
 * Whether an installation holds what a lock file wants: npm writes down what it installed in the same form.
 * @param {{ packages: Record<string, { version?: string, integrity?: string, optional?: boolean }> }} wanted the lock file
 * @param {{ packages: Record<string, { version?: string, integrity?: string }> }} installed `node_modules/.package-lock.json`
 */
export function isInstalled(wanted, installed) {
	const here = installed.packages;
	for (const [path, entry] of Object.entries(wanted.packages)) {
		if (path === '') continue;
		const found = here[path];
		// A package for another platform is in the lock file and not on this machine.
		if (!found && (entry.optional || entry.peer)) continue;
		if (!found || found.version !== entry.version || found.integrity !== entry.integrity) return false;
	}
	return Object.keys(here).every((path) => path in wanted.packages);
}

const read = (path) => JSON.parse(readFileSync(join(root, path), 'utf8'));

export function ensureInstall() {
	const [major, minor] = process.versions.node.split('.').map(Number);
	if (major < 20 || (major === 20 && minor < 19)) {
		process.stderr.write(`Tanto needs Node 20.19 or later; this is ${process.versions.node}.\n`);
		process.exit(1);
	}
	// The database driver is compiled for one version of Node's modules.
	const stamp = join(root, 'node_modules', '.cache', 'tanto', 'node-modules-version');
	const sameNode = !existsSync(stamp) || readFileSync(stamp, 'utf8') === process.versions.modules;
	const list = 'node_modules/.package-lock.json';
	const complete =
		existsSync(join(root, list)) && sameNode && isInstalled(read('package-lock.json'), read(list));
	if (!complete)
		run(
			'npm',
			['ci', '--no-audit', '--no-fund'],
			'Installing packages (a few minutes the first time: the database driver is compiled)'
		);
	if (complete && existsSync(stamp)) return;
	mkdirSync(dirname(stamp), { recursive: true });
	writeFileSync(stamp, process.versions.modules);
}
