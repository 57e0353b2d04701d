/**
 * `npm run test:changed [-- SPEC…]`: the unit tests that a change can touch, and browser tests that were changed or are named. For the
 * minutes between two runs of everything; `TANTO_BASE` names the commit that the change began at (without: what isn't committed yet).
 */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureBrowser } from './ensure-browser.mjs';
import { ensureInstall, root } from './ensure-install.mjs';

ensureInstall();
const base = process.env.TANTO_BASE ?? 'HEAD';
const run = (name, args) =>
	spawnSync(join(root, 'node_modules', '.bin', name), args, { cwd: root, stdio: 'inherit' }).status === 0;
const git = (...args) => spawnSync('git', args, { cwd: root, encoding: 'utf8' }).stdout.split('\n');
const changed = [
	...git('diff', '--name-only', base),
	...git('ls-files', '--others', '--exclude-standard')
].filter((file) => /^tests\/browser\/.*\.spec\.ts$/.test(file));
const specs = [...new Set([...changed, ...process.argv.slice(2)])];

const unit = run('vitest', ['run', '--changed', base, '--passWithNoTests']);
if (specs.length) ensureBrowser();
const browser = specs.length === 0 || run('playwright', ['test', ...specs]);
process.exitCode = unit && browser ? 0 : 1;
