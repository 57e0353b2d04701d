/**
 * `npm test`: sets up what is missing, then types and lint side by side, the build, the unit tests, the browser tests. Ends
 * with the names of what failed and one line `N passed, N failed` over all suites; each of types and lint counts as one.
 */
import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBrowser } from './ensure-browser.mjs';
import { ensureBuild } from './ensure-build.mjs';
import { ensureInstall, root } from './ensure-install.mjs';

ensureInstall();
ensureBrowser();
const results = join(root, 'test-results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

/** Runs a command, keeps its output together, says how it ended. */
function start(title, command, args, env = {}) {
	const begun = Date.now();
	return new Promise((resolve) => {
		const child = spawn(command, args, { cwd: root, env: { ...process.env, ...env } });
		let output = '';
		child.stdout.on('data', (d) => (output += d));
		child.stderr.on('data', (d) => (output += d));
		child.on('close', (code) => {
			console.log(
				`\n== ${title}: ${code === 0 ? 'ok' : 'FAILED'} after ${Math.round((Date.now() - begun) / 1000)} s`
			);
			console.log(output.trim());
			resolve(code === 0);
		});
	});
}

function counted(file, read) {
	try {
		return read(JSON.parse(readFileSync(join(results, file), 'utf8')));
	} catch {
		return { passed: 0, failed: 1 };
	}
}

const bin = (name) => join(root, 'node_modules', '.bin', name);
// Generated types first: type check and lint read them.
await start('generated types', bin('svelte-kit'), ['sync']);
const types = start('types', 'npm', ['run', '--silent', 'check']);
const lint = start('lint', 'npm', ['run', '--silent', 'lint']);
const simple = [await types];
// Before the unit tests, which start the commands from their bundle in a tenth of the time; beside lint, which takes longer than types.
ensureBuild();
simple.push(await lint);
const unit = await start('unit tests', bin('vitest'), [
	'run',
	'--reporter=default',
	'--reporter=json',
	`--outputFile.json=${join(results, 'unit.json')}`
]);
const browser = await start('browser tests', bin('playwright'), ['test']);

// Again at the end: what failed early is far above the last lines by then.
console.log('');
simple.forEach((ok, i) => ok || console.log(`failed: ${['types', 'lint'][i]}`));
let passed = simple.filter(Boolean).length;
let failed = simple.length - passed;
const add = (c, ok) => {
	passed += c.passed;
	// A suite that ended badly without a failed test failed as a whole.
	failed += c.failed || (ok ? 0 : 1);
};
add(
	counted('unit.json', (r) => {
		for (const file of r.testResults)
			for (const t of file.assertionResults)
				if (t.status === 'failed') console.log(`failed: ${file.name}: ${t.fullName}`);
		return {
			passed: r.numPassedTests,
			failed: r.numFailedTests + (r.numFailedTestSuites && !r.numFailedTests ? 1 : 0)
		};
	}),
	unit
);
add(
	counted('browser.json', (r) => ({ passed: r.stats.expected, failed: r.stats.unexpected + r.stats.flaky })),
	browser
);
console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed ? 1 : 0;
