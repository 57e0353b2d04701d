/** The commands, as somebody types them: exit codes, messages on standard error, JSON on standard output. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { main } from '../../src/cli/main.ts';
import { driveLog as drive } from '../../src/core/simulator/drive-log.ts';
import { VEHICLES } from '../../src/core/simulator/vehicles.ts';
import { baseCalibration } from '../../src/core/simulator/base-calibration.ts';
import { reportSchema } from '../../src/core/screening/report.ts';
import { replaySchema } from '../../src/core/revising/replay-schema.ts';
import { proposalSchema } from '../../src/core/revising/proposal.ts';
import { parseCalibration } from '../../src/core/calibration/document.ts';

let folder: string;
const path = (name: string) => join(folder, name);
/** A command in this process: what it would print, and its exit code. */
async function tanto(...args: string[]) {
	let [out, err] = ['', ''];
	const code = await main(args, {
		out: async (piece) =>
			void (out += typeof piece === 'string' ? piece : Buffer.from(piece).toString('utf8')),
		err: (text) => void (err += text)
	});
	return { code, out, err };
}
/** The same as a person types it. */
function spawned(...args: string[]) {
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

describe('as a person types it', () => {
	it('prints JSON on standard output and nothing else', () => {
		const run = spawned('compare', path('c.json'), path('c.json'));
		expect([run.code, run.err]).toEqual([0, '']);
		expect(JSON.parse(run.out)).toMatchObject({ comparable: 'all', changes: [] });
	});
	it('says what is wrong on standard error and ends with 1', () => {
		const run = spawned('screen', path('words.csv'), '--vehicle', path('v.json'));
		expect([run.code, run.out]).toEqual([1, '']);
		expect(run.err).toContain('no columns found');
	});
	it('ends quietly where its reader has seen enough', () => {
		const command = `"${process.execPath}" bin/tanto.mjs convert "${path('log.csv')}" --to csv | head -n 1`;
		const run = spawnSync('sh', ['-c', command], { encoding: 'utf8' });
		expect(run.stdout).toMatch(/^time,/);
		expect(run.stderr).toBe('');
	});
});

describe('tanto', () => {
	it('screens, revises with --out and compares what came out', async () => {
		const screened = await tanto(
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
		const revised = await tanto(
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
		const compared = JSON.parse((await tanto('compare', path('c.json'), path('next.json'))).out) as {
			comparable: string;
			changes: { item: string; cellsChanged: number }[];
		};
		expect(compared.comparable).toBe('all');
		expect(compared.changes.find((c) => c.item === 'fuel.table')?.cellsChanged).toBe(table.cells.length);
	});
	it('lets older revisions speak with their logs, and writes down what the engine wants', async () => {
		await tanto(
			'revise',
			path('c.json'),
			path('log.csv'),
			'--vehicle',
			path('v.json'),
			'--out',
			path('next.json')
		);
		const next = parseCalibration(JSON.parse(readFileSync(path('next.json'), 'utf8')));
		writeFileSync(path('log2.csv'), drive(VEHICLES.marl, next, {}, 8));
		const args = ['revise', path('next.json'), path('log2.csv'), '--vehicle', path('v.json')];
		const run = await tanto(
			...args,
			'--with',
			path('c.json'),
			path('log.csv'),
			'--requirement',
			path('r.csv')
		);
		expect(run.code, run.err).toBe(0);
		const both = proposalSchema.parse(JSON.parse(run.out));
		expect(both.silent ?? []).toEqual([]);
		// 6 % lean went in at once: what is left is a few cells, and small.
		const cells = both.changes.filter((c) => c.item === 'fuel.table').flatMap((c) => c.cells);
		expect(Math.max(0, ...cells.map((c) => Math.abs(c.to / c.from - 1)))).toBeLessThan(0.03);
		const lines = readFileSync(path('r.csv'), 'utf8').trimEnd().split('\n');
		expect(lines[0]).toContain('correction_pct,sd_pct');
		expect(lines.length).toBeGreaterThan(100);
		const alone = proposalSchema.parse(JSON.parse((await tanto(...args)).out));
		expect(alone.next).toBeDefined();
		expect((await tanto(...args, '--with', path('c.json'))).code).toBe(2);
	});
	it('leaves out with --cautious what adds over 8 % where nobody counts misfires', async () => {
		const lean = baseCalibration({
			vehicle: VEHICLES.marl,
			fuelModel: 'speed-density',
			name: 'lean',
			fuelError: () => -0.13
		});
		writeFileSync(path('lean.json'), JSON.stringify(lean));
		const text = drive(VEHICLES.marl, parseCalibration(lean), {}, 7);
		const [head, ...rows] = text.split('\n');
		// The same log without its counters.
		const kept = head!.split(',').flatMap((name, i) => (/misfire/i.test(name) ? [] : [i]));
		const without = [head!, ...rows].map((l) => kept.map((i) => l.split(',')[i]).join(',')).join('\n');
		writeFileSync(path('lean.csv'), without);
		const args = ['revise', path('lean.json'), path('lean.csv'), '--vehicle', path('v.json')];
		const cells = async (...more: string[]) =>
			proposalSchema
				.parse(JSON.parse((await tanto(...args, ...more)).out))
				.changes.filter((c) => c.item === 'fuel.table')
				.flatMap((c) => c.cells);
		expect((await cells()).some((c) => c.ask)).toBe(true);
		expect((await cells('--cautious')).some((c) => c.ask)).toBe(false);
	});
	it('replays the log with the next revision', async () => {
		await tanto(
			'revise',
			path('c.json'),
			path('log.csv'),
			'--vehicle',
			path('v.json'),
			'--out',
			path('next.json')
		);
		const run = await tanto(
			'replay',
			path('c.json'),
			path('next.json'),
			path('log.csv'),
			'--vehicle',
			path('v.json')
		);
		expect(run.code, run.err).toBe(0);
		const replay = replaySchema.parse(JSON.parse(run.out));
		expect(replay.pulls.length).toBeGreaterThan(2);
		for (const { summary } of replay.pulls)
			expect(summary.leanestPct[1]!).toBeLessThan(summary.leanestPct[0]!);
		const same = replaySchema.parse(
			JSON.parse(
				(await tanto('replay', path('c.json'), path('c.json'), path('log.csv'), '--vehicle', path('v.json')))
					.out
			)
		);
		expect(same.pulls.every((p) => p.fuelPct.every((f) => f === null || f === 0))).toBe(true);
	});
	it('turns calibrations into CDF and CSV, and CDF back', async () => {
		const cdf = await tanto('convert', path('c.json'), '--to', 'cdf');
		expect(cdf.code, cdf.err).toBe(0);
		expect(cdf.out).toContain('<CATEGORY>CDF20</CATEGORY>');
		writeFileSync(path('c.xml'), cdf.out);
		const back = await tanto('convert', path('c.xml'), '--to', 'json');
		expect(JSON.parse(back.out)).toEqual(JSON.parse(readFileSync(path('c.json'), 'utf8')));
		const table = (await tanto('convert', path('c.json'), '--to', 'csv', '--item', 'fuel.table')).out.split(
			'\n'
		);
		expect(table[0]).toMatch(/^,500,1000,/);
		expect(table[1]).toMatch(/^20,\d/);
		expect(JSON.parse((await tanto('compare', path('c.json'), path('c.xml'))).out)).toMatchObject({
			changes: []
		});
		const wrong = await tanto('convert', path('c.json'), '--to', 'parquet');
		expect([wrong.code, wrong.out]).toEqual([2, '']);
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
	])('%j ends with %i', async (args, code, message) => {
		const run = await tanto(...args.map((a) => (/\.(csv|json)$/.test(a) ? path(a) : a)));
		expect(run.code).toBe(code);
		expect(run.err).toContain(message);
		expect(run.out).toBe('');
	});

	it('answers a swap test, reads plugs, plans injectors and says the next rung', async () => {
		const kestrel = VEHICLES.kestrel;
		const base = parseCalibration(
			baseCalibration({ vehicle: kestrel, fuelModel: 'speed-density', name: 'k' })
		);
		writeFileSync(path('kv.json'), JSON.stringify(kestrel));
		writeFileSync(path('kc.json'), JSON.stringify(base));
		writeFileSync(path('before.csv'), drive(kestrel, base, { bankFlow: [1, 0.93] }, 3));
		writeFileSync(path('after.csv'), drive(kestrel, base, { bankFlow: [0.93, 1] }, 4));
		writeFileSync(
			path('swap.json'),
			JSON.stringify({ schema: 'tanto.swap/1', kind: 'injectors-side-to-side' })
		);
		const moved = await tanto(
			'swap',
			path('before.csv'),
			path('after.csv'),
			'--vehicle',
			path('kv.json'),
			'--swap',
			path('swap.json')
		);
		expect(moved.code, moved.err).toBe(0);
		const swap = JSON.parse(moved.out) as {
			answer: string;
			before: { pct: number; se: number };
			cells: number;
		};
		expect(swap.answer).toBe('moved');
		expect(swap.before.pct).toBeCloseTo(7.5, 0);
		writeFileSync(path('bad-swap.json'), JSON.stringify({ schema: 'tanto.swap/1', kind: 'lambda-moved' }));
		const bad = await tanto(
			'swap',
			path('before.csv'),
			path('after.csv'),
			'--vehicle',
			path('kv.json'),
			'--swap',
			path('bad-swap.json')
		);
		expect([bad.code, bad.out]).toEqual([1, '']);
		expect(bad.err).toContain('from');

		const trims = (id: string) => ({
			id,
			kind: 'curve',
			x: { channel: 'cylinder', points: [1, 2, 3, 4, 5, 6] },
			values: [0, 3, 0, 0, 0, 0]
		});
		writeFileSync(
			path('trims.json'),
			JSON.stringify({ ...base, items: [...base.items, trims('fuel.cylTrim')] })
		);
		const plugs = {
			schema: 'tanto.plugs/1',
			plated: true,
			newForSession: true,
			passes: 2,
			cutAfterPass: true,
			readings: [{ cylinder: 2, plating: 'all', mark: 'at-bend' }]
		};
		writeFileSync(path('plugs.json'), JSON.stringify(plugs));
		const read = await tanto(
			'plugs',
			path('plugs.json'),
			path('trims.json'),
			'--vehicle',
			path('kv.json'),
			'--out',
			path('trimmed.json')
		);
		expect(read.code, read.err).toBe(0);
		expect(JSON.parse(read.out)).toMatchObject({
			changes: [{ item: 'fuel.cylTrim', cylinder: 2, from: 3, to: 5 }],
			findings: [{ code: 'cyl.trim', severity: 'fix', cylinder: 2 }]
		});
		const next = parseCalibration(JSON.parse(readFileSync(path('trimmed.json'), 'utf8')));
		expect(next.items.find((i) => i.id === 'fuel.cylTrim')).toMatchObject({ values: [0, 5, 0, 0, 0, 0] });
		expect(
			(
				await tanto(
					'plugs',
					path('plugs.json'),
					path('trims.json'),
					'--vehicle',
					path('kv.json'),
					'--rank',
					'smell'
				)
			).code
		).toBe(2);

		writeFileSync(
			path('goal.json'),
			JSON.stringify({
				schema: 'tanto.goal/1',
				powerHp: 500,
				ethanolPct: 60,
				candidatesCcMin: [720, 1300],
				boostKpa: [[3000, 180]]
			})
		);
		const plan = await tanto('injectors', '--vehicle', path('kv.json'), '--goal', path('goal.json'));
		expect(plan.code, plan.err).toBe(0);
		expect(JSON.parse(plan.out)).toMatchObject({
			basis: 'figures',
			smallestFlowCcMin: 1300,
			pump: 'unknown'
		});
		const rung = await tanto(
			'ladder',
			path('kc.json'),
			path('before.csv'),
			'--vehicle',
			path('kv.json'),
			'--goal',
			path('goal.json')
		);
		expect(rung.code, rung.err).toBe(0);
		expect(JSON.parse(rung.out)).toMatchObject({ rung: { kind: 'banks' }, changes: [], end: null });
	});

	it('says what it saw of a layout that it does not know, and takes what is said of it', async () => {
		const text = `Moment;Engine Speed rpm;MAP kPa\n${Array.from({ length: 60 }, (_, i) => `${i / 10};${900 + i};35`).join('\n')}\n`;
		writeFileSync(path('nameless.csv'), text);
		const args = ['screen', path('nameless.csv'), '--vehicle', path('v.json')];
		const refused = await tanto(...args);
		expect(refused.code).toBe(1);
		expect(refused.err).toContain('"Moment", "Engine Speed", "MAP"');
		expect(refused.err).toContain('--time COLUMN');
		const read = await tanto(...args, '--time', 'Moment');
		expect(read.code, read.err).toBe(0);
		expect(reportSchema.parse(JSON.parse(read.out)).log.rows).toBe(60);
		expect((await tanto(...args, '--header', '1', '--separator', 'semicolon', '--time', 'Moment')).code).toBe(
			0
		);
		expect((await tanto(...args, '--separator', 'pipe')).code).toBe(2);
	});
	it.each<[string, string[], string]>([
		[
			'a folder that is not there',
			['revise', 'c.json', 'log.csv', '--vehicle', 'v.json', '--out', 'none/next.json'],
			'is not there'
		],
		[
			'a document nested without end',
			['screen', 'log.csv', '--vehicle', 'deep.json'],
			'nested more than 100 levels'
		],
		['a limit that is none', ['screen', 'log.csv', '--vehicle', 'limits.json'], 'the nearest is "leanFixPct"']
	])('%s is one message', async (_, args, says) => {
		writeFileSync(path('deep.json'), '['.repeat(100_000) + ']'.repeat(100_000));
		writeFileSync(path('limits.json'), JSON.stringify({ ...VEHICLES.marl, limits: { leanFixPc: 4 } }));
		const r = await tanto(...args.map((a) => (/\.(json|csv)$/.test(a) ? path(a) : a)));
		expect(r.code).toBe(1);
		expect(r.err).toContain(says);
		expect(r.err.trim().split('\n')).toHaveLength(1);
		expect(r.err.length).toBeLessThan(520);
	});
	it('compares by the air of the vehicle', async () => {
		const axis = (y: object) => ({
			schema: 'tanto.calibration/1',
			name: 'r',
			fuelModel: 'speed-density',
			items: [
				{
					id: 'spark.table',
					kind: 'map',
					unit: '°',
					x: { channel: 'rpm', points: [1000, 7000] },
					y,
					values: [
						[30, 32],
						[10, 12]
					]
				}
			]
		});
		writeFileSync(path('ratio.json'), JSON.stringify(axis({ channel: 'pressureRatio', points: [0.5, 2] })));
		writeFileSync(path('kpa.json'), JSON.stringify(axis({ channel: 'map', unit: 'kPa', points: [40, 160] })));
		writeFileSync(
			path('high.json'),
			JSON.stringify({ ...VEHICLES.marl, baselines: { ambientPressureKpa: 80 } })
		);
		const classOf = async (...more: string[]) =>
			(
				JSON.parse((await tanto('compare', path('ratio.json'), path('kpa.json'), ...more)).out) as {
					changes: { class: string }[];
				}
			).changes[0]?.class;
		expect(await classOf('--vehicle', path('high.json'))).toBe('neutral');
		expect(await classOf()).not.toBe('neutral');
	});

	it('rescales for other injectors, joins a second recorder, and says what power was gained', async () => {
		const flow = (ccMin: number) => ({
			...VEHICLES.marl,
			injectors: { ...VEHICLES.marl.injectors, flowCcMin: ccMin }
		});
		writeFileSync(path('old.json'), JSON.stringify(flow(1050)));
		writeFileSync(path('new.json'), JSON.stringify(flow(1300)));
		const scaled = await tanto(
			'rescale',
			path('c.json'),
			'--vehicle',
			path('old.json'),
			'--to',
			path('new.json'),
			'--out',
			path('scaled.json')
		);
		expect([scaled.code, scaled.err]).toEqual([0, '']);
		expect(JSON.parse(scaled.out).effectiveFuelPct).toEqual({ min: 0, max: 0 });
		const compared = JSON.parse((await tanto('compare', path('c.json'), path('scaled.json'))).out);
		expect(compared.changes.filter((c: { class: string }) => c.class === 'riskier')).toEqual([]);

		// The same drive by another clock: 7.3 s late and 0.2 % fast, with an instrument's mixture.
		const [head, ...lines] = readFileSync(path('log.csv'), 'utf8').trim().split('\n');
		const names = head!.split(',');
		const [time, rpm] = ['Time', 'Engine Speed'].map((n) => names.findIndex((h) => h.includes(n)));
		const rows = lines.map((l) => l.split(',')).filter((c) => Number(c[time!]) >= 7.3);
		writeFileSync(
			path('other.csv'),
			[
				'Time (s),Engine Speed (rpm),Lambda Reference (λ)',
				...rows.map((c) => `${((Number(c[time!]) - 7.3) * 1.002).toFixed(3)},${c[rpm!]},0.85`)
			].join('\n')
		);
		const joined = await tanto('join', path('log.csv'), path('other.csv'), '--out', path('joined.csv'));
		expect([joined.code, joined.err]).toEqual([0, '']);
		const aligned = JSON.parse(joined.out);
		expect(Math.abs(aligned.offsetS - 7.3)).toBeLessThan(0.05);
		expect(aligned.rate).toBeCloseTo(1.002, 3);
		expect(readFileSync(path('joined.csv'), 'utf8').split('\n')[0]).toMatch(/lambda\.ref/);
		expect((await tanto('join', path('log.csv'), path('words.csv'))).code).toBe(1);

		const sheet = (kw: number[]) => ({
			schema: 'tanto.readings/1',
			source: 'dyno',
			readings: kw.map((value, i) => ({ quantity: 'powerKw', rpm: 3000 + 500 * i, value }))
		});
		writeFileSync(path('t1.json'), JSON.stringify(sheet([100.1, 120.2])));
		writeFileSync(path('t2.json'), JSON.stringify(sheet([111.4, 140.5])));
		writeFileSync(path('log2.csv'), readFileSync(path('log.csv')));
		const power = await tanto(
			'power',
			path('log.csv'),
			'--readings',
			path('t2.json'),
			'--against',
			path('log2.csv'),
			'--readings',
			path('t1.json'),
			'--vehicle',
			path('v.json')
		);
		expect([power.code, power.err]).toEqual([0, '']);
		expect(JSON.parse(power.out).gain.map((g: { powerKw: number }) => g.powerKw)).toEqual([11.3, 20.3]);
	});
	describe('tables of an own program', () => {
		const write = (name: string, text: string) => writeFileSync(path(name), text);
		const layout = {
			schema: 'tanto.layout/1',
			name: 'mine',
			fuelModel: 'speed-density',
			tables: [
				{
					item: 'fuel.table',
					unit: '%',
					decimals: 1,
					rows: 'y-up',
					x: { channel: 'rpm', unit: 'rpm' },
					y: { channel: 'map', unit: 'psi gauge' }
				},
				{
					item: 'spark.table',
					unit: '°',
					decimals: 1,
					rows: 'y-up',
					axes: 'without',
					x: { channel: 'rpm' },
					y: { channel: 'map', unit: 'kPa' }
				},
				{ item: 'boost.target', unit: 'kPa', x: { channel: 'rpm' } }
			],
			scalars: [{ item: 'limit.rpm', title: 'Rev limit', unit: 'rpm', decimals: 0 }]
		};
		const FUEL = '\t1000\t2000\t3000\n15\t80\t83\t85\n0\t50\t52\t54\n-5\t30\t31\t32\n';
		it('are read, built, written and held against a revision', async () => {
			mkdirSync(path('own'));
			write('layout.json', JSON.stringify(layout));
			write('own/fuel.table.txt', FUEL);
			write('own/spark.table.tsv', '20\t21\t22\n30\t31\t32\n');
			write('own/spark.table.x.txt', '1000\n2000\n3000\n');
			write('own/spark.table.y.txt', '100\t50\n');
			write('own/scalars.txt', 'Rev limit\t7000\trpm\nOdd one\t3\n');
			const read = JSON.parse((await tanto('table', path('own/fuel.table.txt'))).out) as Record<
				string,
				unknown
			>;
			expect(read).toMatchObject({
				x: [1000, 2000, 3000],
				y: [-5, 0, 15],
				values: [
					[30, 31, 32],
					[50, 52, 54],
					[80, 83, 85]
				],
				orientation: { rows: 'y-up', transposed: false },
				guess: { item: 'fuel.table', unit: '%', y: { channel: 'boost', unit: 'psi' } }
			});
			const built = await tanto(
				'build',
				'--layout',
				path('layout.json'),
				path('own'),
				'--out',
				path('built.json')
			);
			expect(built.code, built.err).toBe(0);
			expect(built.err).toContain('boost.target');
			const c = parseCalibration(JSON.parse(readFileSync(path('built.json'), 'utf8')));
			expect(c.items.map((i) => i.id)).toEqual(['fuel.table', 'spark.table', 'limit.rpm', 'Odd one']);
			expect(c.items[1]).toMatchObject({
				y: { points: [50, 100] },
				values: [
					[30, 31, 32],
					[20, 21, 22]
				]
			});
			const text = (
				await tanto('table', path('built.json'), '--item', 'fuel.table', '--layout', path('layout.json'))
			).out;
			expect(text).toBe(
				'\t1000\t2000\t3000\n15\t80.0\t83.0\t85.0\n0\t50.0\t52.0\t54.0\n-5\t30.0\t31.0\t32.0\n'
			);
			const held = async (body: string, ...more: string[]) => {
				write('back.txt', body);
				const run = await tanto(
					'table',
					path('back.txt'),
					'--against',
					path('built.json'),
					'--item',
					'fuel.table',
					...more
				);
				expect(run.code, run.err).toBe(0);
				return JSON.parse(run.out) as Record<string, unknown>;
			};
			expect(await held(text)).toEqual({ match: true, verified: 9, differences: [], fits: null });
			expect(await held(text.replace('83.0', '83.2'))).toMatchObject({
				match: false,
				verified: 8,
				differences: [{ x: 2000, y: 15, revision: 83, found: 83.2 }]
			});
			const older = {
				...c,
				items: c.items.map((i) =>
					i.id === 'fuel.table' && i.kind === 'map'
						? { ...i, values: i.values.map((r) => r.map((v) => v + 1)) }
						: i
				)
			};
			write('older.json', JSON.stringify(older));
			const before = FUEL.replace(/\t(\d\d)(?=[\t\n])/g, (_, v: string) => `\t${Number(v) + 1}`);
			expect((await held(before, '--calibration', path('older.json'))).fits).toBe('R0');
		});
		it.each([
			['ragged.txt', '\t1000\t2000\n20\t30\n', 'ragged.txt: row 2, column 3'],
			['formula.txt', '\t1000\t2000\n20\t=A1\t2\n', 'formula.txt: row 2, column 2: "=A1" is a formula'],
			['empty.txt', '\n', 'there is nothing in it']
		])('%s is refused with row and column', async (name, text, why) => {
			write(name, text);
			const run = await tanto('table', path(name));
			expect(run.code).toBe(1);
			expect(run.err).toContain(why);
			expect(run.out).toBe('');
		});
	});
});
