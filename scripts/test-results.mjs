/** What the suites wrote down of themselves: how many passed, the names of what failed, what took longest. */
import { readFileSync } from 'node:fs';
import { relative } from 'node:path';
import { root } from './ensure-install.mjs';

const SLOWEST = 10;

/**
 * @typedef {{ name: string, seconds: number, passed: boolean }} TestResult
 * @typedef {{ title: string, tests: TestResult[], passed: number, failed: number }} Suite
 */

/**
 * @param {string} title
 * @param {boolean} ok whether the suite's command ended well
 * @param {() => TestResult[]} read
 * @returns {Suite}
 */
function suite(title, ok, read) {
	/** @type {TestResult[]} */
	let tests = [];
	try {
		tests = read();
	} catch {
		// Nothing was written: it failed as a whole.
	}
	const passed = tests.filter((t) => t.passed).length;
	// A suite that ended badly without a failed test failed as a whole.
	return { title, tests, passed, failed: tests.length - passed || (ok && tests.length ? 0 : 1) };
}

/** @param {string} file Vitest's report @param {boolean} ok */
export const unitResults = (file, ok) =>
	suite('unit tests', ok, () =>
		JSON.parse(readFileSync(file, 'utf8')).testResults.flatMap((f) =>
			f.assertionResults.map((t) => ({
				name: `${relative(root, f.name)}: ${t.fullName}`,
				seconds: (t.duration ?? 0) / 1000,
				passed: t.status !== 'failed'
			}))
		)
	);

/** Tests of a file and of the groups in it, one after another. */
function* specsOf(node) {
	yield* node.specs ?? [];
	for (const inner of node.suites ?? []) yield* specsOf(inner);
}

/** A test that passed only when it was run again has failed. @param {string} file Playwright's report @param {boolean} ok */
export const browserResults = (file, ok) =>
	suite('browser tests', ok, () =>
		JSON.parse(readFileSync(file, 'utf8')).suites.flatMap((f) =>
			[...specsOf(f)].flatMap((spec) =>
				spec.tests.map((t) => ({
					name: `${spec.file}: ${spec.title}`,
					seconds: Math.max(0, ...t.results.map((r) => r.duration)) / 1000,
					passed: t.status === 'expected' || t.status === 'skipped'
				}))
			)
		)
	);

/** @param {Suite} suite */
export function printSlowest({ title, tests }) {
	console.log(`\nslowest ${title}:`);
	for (const t of [...tests].sort((a, b) => b.seconds - a.seconds).slice(0, SLOWEST))
		console.log(`${t.seconds.toFixed(1).padStart(7)} s  ${t.name}`);
}
