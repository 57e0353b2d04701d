/**
 * `npm test`: sets up what is missing, then types and lint side by side with the build, the unit tests, the browser tests. Ends with
 * where the time went, the names of what failed, and one line `N passed, N failed` over all suites; types and each part of lint count as one.
 */
import { spawn } from 'node:child_process';
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBrowser } from './ensure-browser.mjs';
import { ensureInstall, root } from './ensure-install.mjs';
import { browserResults, printSlowest, unitResults } from './test-results.mjs';

ensureInstall();
ensureBrowser();
const folder = join(root, 'test-results');
rmSync(folder, { recursive: true, force: true });
mkdirSync(folder, { recursive: true });

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
// What is bound by the processor side by side; the unit tests begin when lint has ended, whatever the build still does.
let unit = false;
await Promise.all([
	(async () => {
		await npm('types', 'check');
		await step('build', process.execPath, ['scripts/ensure-build.mjs']);
		await step('demo world', process.execPath, ['scripts/ensure-demo-world.mjs']);
	})(),
	(async () => {
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
const browser = await step('browser tests', bin('playwright'), ['test']);

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
