/** What decides whether something has to be installed or made again, and what the suites say of themselves. */
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { isInstalled } from './ensure-install.mjs';
import { browserResults, unitResults } from './test-results.mjs';

describe('isInstalled', () => {
	const a = { version: '1.0.0', integrity: 'sha512-a' };
	const b = { version: '2.0.0', integrity: 'sha512-b' };
	const lock = { packages: { '': {}, 'node_modules/a': a, 'node_modules/b': { ...b, optional: true } } };
	it.each([
		['all of it', { 'node_modules/a': a, 'node_modules/b': b }, true],
		['all but a package for another platform', { 'node_modules/a': a }, true],
		['a package is missing', { 'node_modules/b': b }, false],
		['a package is of another version', { 'node_modules/a': { ...a, version: '1.0.1' } }, false],
		['a package has other contents', { 'node_modules/a': { ...a, integrity: 'sha512-x' } }, false],
		['a package is left over', { 'node_modules/a': a, 'node_modules/c': a }, false]
	])('%s', (_, packages, complete) => {
		expect(isInstalled(lock, { packages })).toBe(complete);
	});
	it('holds for what npm installed here from our lock file', () => {
		const read = (path: string) => JSON.parse(readFileSync(join(import.meta.dirname, '..', path), 'utf8'));
		expect(isInstalled(read('package-lock.json'), read('node_modules/.package-lock.json'))).toBe(true);
	});
});

describe('results of a suite', () => {
	let folder: string;
	beforeEach(() => mkdirSync((folder = mkdtempSync(join(tmpdir(), 'tanto-results-'))), { recursive: true }));
	afterEach(() => rmSync(folder, { recursive: true }));
	const written = (report: object) => {
		writeFileSync(join(folder, 'r.json'), JSON.stringify(report));
		return join(folder, 'r.json');
	};
	it('count units by their names', () => {
		const t = (fullName: string, status: string) => ({ fullName, status, duration: 1500 });
		const file = written({
			testResults: [{ name: '/x/a.test.ts', assertionResults: [t('a', 'passed'), t('b', 'failed')] }]
		});
		const r = unitResults(file, false);
		expect([r.passed, r.failed]).toEqual([1, 1]);
		expect(r.tests[0]!.seconds).toBe(1.5);
	});
	it('take what passed only the second time for failed', () => {
		const spec = (title: string, status: string) => ({
			title,
			file: 'a.spec.ts',
			tests: [{ status, results: [{ duration: 1 }] }]
		});
		const file = written({
			suites: [{ specs: [spec('a', 'expected')], suites: [{ specs: [spec('b', 'flaky')] }] }]
		});
		const r = browserResults(file, false);
		expect([r.passed, r.failed]).toEqual([1, 1]);
	});
	it('are one failure where the suite ended badly, or wrote nothing', () => {
		expect(unitResults(join(folder, 'none.json'), true).failed).toBe(1);
		expect(unitResults(written({ testResults: [] }), true).failed).toBe(1);
		expect(
			browserResults(
				written({
					suites: [{ specs: [{ title: 'a', file: 'a', tests: [{ status: 'expected', results: [] }] }] }]
				}),
				false
			).failed
		).toBe(1);
	});
});
