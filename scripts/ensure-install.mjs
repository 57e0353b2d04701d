/** Installs the packages when the lock file changed since the last time; says what it does on standard error. */
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
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

export function ensureInstall() {
	const [major, minor] = process.versions.node.split('.').map(Number);
	if (major < 20 || (major === 20 && minor < 19)) {
		process.stderr.write(`Tanto needs Node 20.19 or later; this is ${process.versions.node}.\n`);
		process.exit(1);
	}
	const lock = readFileSync(join(root, 'package-lock.json'));
	const stamp = join(root, 'node_modules', '.cache', 'tanto', 'installed');
	const hash = createHash('sha256').update(lock).update(process.version).digest('hex');
	if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return;
	run(
		'npm',
		['ci', '--no-audit', '--no-fund'],
		'Installing packages (a few minutes the first time: the database driver is compiled)'
	);
	mkdirSync(dirname(stamp), { recursive: true });
	writeFileSync(stamp, hash);
}
