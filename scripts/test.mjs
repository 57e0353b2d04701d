/**
 * `npm test`: sets up what is missing, then types, lint and unit tests beside build and browser tests. Ends with
 * where the time went, the names of what failed, and one line `N passed, N failed` over all suites; types and each part of lint count as one.
 */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, rmSync, statfsSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBrowser } from './ensure-browser.mjs';
import { ensureInstall, root } from './ensure-install.mjs';
import { browserResults, printSlowest, unitResults } from './test-results.mjs';

ensureInstall();
ensureBrowser();
const memory = memoryFolder();
if (memory) process.env['TMPDIR'] = memory;
const folder = join(root, 'test-results');
rmSync(folder, { recursive: true, force: true });
mkdirSync(folder, { recursive: true });

/**
 * Where the folders of the tests' servers lie: in memory where there is enough of it, so that no test waits for a disk to say that it is done.
 * @returns null for the system's own place
 */
function memoryFolder() {
	const folder = '/dev/shm';
	if (!existsSync(folder)) return null;
	const { bavail, bsize } = statfsSync(folder);
	return bavail * bsize > 4e9 ? folder : null;
}

/** @type {{ title: string, ok: boolean, seconds: number }[]} */
const steps = [];

/** Runs a command, keeps its output together, says how it ended. */
function step(title, command, args) {
	const begun = Date.now();
	return new Promise((resolve) => {
		const child = spawn(command, args, { cwd: root });
		let output = '';
		child.stdout.on('data', (d) => (output += d));
		child.stderr.on('data', (d) => (output += d));
		child.on('close', (code) => {
			const seconds = Math.round((Date.now() - begun) / 1000);
			steps.push({ title, ok: code === 0, seconds });
			console.log(`\n== ${title}: ${code === 0 ? 'ok' : 'FAILED'} after ${seconds} s`);
			console.log(output.trim());
			resolve(code === 0);
		});
	});
}

const bin = (name) => join(root, 'node_modules', '.bin', name);
const npm = (title, script) => step(title, 'npm', ['run', '--silent', script]);

// Generated types first: type check and lint read them.
await step('generated types', bin('svelte-kit'), ['sync']);
// Two lanes that keep two cores busy to the end: the longest way, build → demo world → browser tests, begins at once; pages wait for
// much that isn't the processor, and the other lane works in those gaps.
let unit = false;
let browser = false;
await Promise.all([
	(async () => {
		await step('build', process.execPath, ['scripts/ensure-build.mjs']);
		await step('demo world', process.execPath, ['scripts/ensure-demo-world.mjs']);
		browser = await step('browser tests', bin('playwright'), ['test']);
	})(),
	(async () => {
		await npm('types', 'check');
		await npm('lint: what imports what', 'lint:house');
		await npm('lint: rules', 'lint:rules');
		await npm('lint: format', 'lint:format');
		unit = await step('unit tests', bin('vitest'), [
			'run',
			'--reporter=default',
			'--reporter=json',
			`--outputFile.json=${join(folder, 'unit.json')}`
		]);
	})()
]);

const suites = [
	unitResults(join(folder, 'unit.json'), unit),
	browserResults(join(folder, 'browser.json'), browser)
];
for (const s of suites) printSlowest(s);
console.log('\nwhere the time went:');
for (const s of steps) console.log(`${String(s.seconds).padStart(7)} s  ${s.title}`);

// Again at the end: what failed early is far above the last lines by then.
const SUITES = ['unit tests', 'browser tests'];
const simple = steps.filter((s) => !SUITES.includes(s.title));
for (const s of simple) if (!s.ok) console.log(`failed: ${s.title}`);
for (const s of suites) for (const t of s.tests) if (!t.passed) console.log(`failed: ${t.name}`);
const sum = (numbers) => numbers.reduce((a, b) => a + b, 0);
const passed = simple.filter((s) => s.ok).length + sum(suites.map((s) => s.passed));
const failed = simple.filter((s) => !s.ok).length + sum(suites.map((s) => s.failed));
console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed ? 1 : 0;
