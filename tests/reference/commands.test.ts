/** The commands, as somebody types them: exit codes, messages on standard error, JSON on standard output. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { drive, VEHICLES } from '../../scripts/demo/world.ts';
import { baseCalibration } from '../../src/core/simulator/base-calibration.ts';
import { reportSchema } from '../../src/core/screening/report.ts';
import { proposalSchema } from '../../src/core/revising/proposal.ts';
import { parseCalibration } from '../../src/core/calibration/document.ts';

let folder: string;
const path = (name: string) => join(folder, name);
function tanto(...args: string[]) {
	const run = spawnSync(process.execPath, ['bin/tanto.mjs', ...args], { encoding: 'utf8' });
	return { code: run.status, out: run.stdout, err: run.stderr };
}

beforeAll(() => {
	folder = mkdtempSync(join(tmpdir(), 'tanto-commands-'));
	const vehicle = VEHICLES.marl;
	const calibration = parseCalibration(
		baseCalibration({ vehicle, fuelModel: 'speed-density', name: 'base', fuelError: (_, l) => -0.06 * l })
	);
	writeFileSync(path('v.json'), JSON.stringify(vehicle));
	writeFileSync(path('c.json'), JSON.stringify(calibration));
	writeFileSync(path('log.csv'), drive(vehicle, calibration, {}, 7));
	writeFileSync(
		path('bad.json'),
		'{"schema": "tanto.vehicle/1", "name": "x", "engine": {"cylinders": "four"}}'
	);
	writeFileSync(path('words.csv'), 'not a log at all\n');
});
afterAll(() => rmSync(folder, { recursive: true }));

describe('tanto', () => {
	it('screens, revises with --out and compares what came out', () => {
		const screened = tanto(
			'screen',
			path('log.csv'),
			'--vehicle',
			path('v.json'),
			'--calibration',
			path('c.json')
		);
		expect(screened.code, screened.err).toBe(0);
		const report = reportSchema.parse(JSON.parse(screened.out));
		expect(report.segments.some((s) => s.kind === 'pull')).toBe(true);
		const revised = tanto(
			'revise',
			path('c.json'),
			path('log.csv'),
			'--vehicle',
			path('v.json'),
			'--out',
			path('next.json')
		);
		expect(revised.code, revised.err).toBe(0);
		const proposal = proposalSchema.parse(JSON.parse(revised.out));
		const table = proposal.changes.find((c) => c.item === 'fuel.table')!;
		expect(table.cells.length).toBeGreaterThan(10);
		const next = parseCalibration(JSON.parse(readFileSync(path('next.json'), 'utf8')));
		expect(next.items.map((i) => i.id)).toContain('fuel.table');
		const compared = JSON.parse(tanto('compare', path('c.json'), path('next.json')).out) as {
			comparable: string;
			changes: { item: string; cellsChanged: number }[];
		};
		expect(compared.comparable).toBe('all');
		expect(compared.changes.find((c) => c.item === 'fuel.table')?.cellsChanged).toBe(table.cells.length);
	});
	it.each([
		[['screen', 'nowhere.csv', '--vehicle', 'v.json'], 1, 'nowhere.csv: there is no such file'],
		[['screen', 'log.csv', '--vehicle', 'bad.json'], 1, 'engine.cylinders'],
		[['screen', 'words.csv', '--vehicle', 'v.json'], 1, 'no columns found'],
		[['screen', 'log.csv'], 2, '--vehicle is missing'],
		[['screen', 'log.csv', '--vehicle', 'v.json', '--stated', '3'], 2, '--stated 3'],
		[['screen', 'log.csv', '--vehicle', 'v.json', '--frob'], 2, 'frob'],
		[['dance'], 2, 'there is no command "dance"'],
		[[], 2, 'a command is missing']
	])('%j ends with %i', (args, code, message) => {
		const run = tanto(...args.map((a) => (/\.(csv|json)$/.test(a) ? path(a) : a)));
		expect(run.code).toBe(code);
		expect(run.err).toContain(message);
		expect(run.out).toBe('');
	});
});
