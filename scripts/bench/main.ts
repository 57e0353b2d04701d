/**
 * `npm run bench`: speed as ratios against a reference measured in the same run, each pair alternating so that a busy machine slows
 * both. Figures mean nothing on their own; the ratios and the limits beside them do.
 */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { options } from '../bundle-workers.mjs';
import { ensureBuild } from '../ensure-build.mjs';
import { COLUMNS, writeBigLog } from './big-log.ts';
import { DIALECTS, writeDialect } from './dialects.ts';

const here = dirname(fileURLToPath(import.meta.url));
const root = join(here, '..', '..');
const folder = join(root, 'node_modules', '.cache', 'tanto', 'bench');
const ROWS = 144_000;
const ROUNDS = 5;
const LONG_ROWS = 720_000;
const LONG_ROUNDS = 3;
const DIALECT_ROWS = 48_000;

interface Measured {
	[name: string]: number;
}

/** Runs one measurement in a process of its own, so that memory and compiled code of one don't help or hurt the other. */
function measure(what: string, file: string): Measured {
	return run(what, ['--expose-gc', 'scripts/run-ts.mjs', join(here, `${what}.ts`), file]);
}

/** The same, bundled as the workers are: what is measured is what a worker runs. */
async function measureBundled(what: string, file: string): Promise<Measured> {
	const out = join(folder, 'bundled');
	await build({ ...(await options(out)), entryPoints: [join(here, `${what}.ts`)] });
	return run(what, ['--expose-gc', join(out, `${what}.mjs`), file]);
}

function run(what: string, args: string[]): Measured {
	const run = spawnSync(process.execPath, args, { cwd: root, encoding: 'utf8' });
	if (run.status !== 0) throw new Error(`${what} failed:\n${run.stderr}`);
	return JSON.parse(run.stdout.trim().split('\n').at(-1)!) as Measured;
}

function median(values: number[]): number {
	const sorted = [...values].sort((a, b) => a - b);
	return sorted[sorted.length >> 1]!;
}

ensureBuild();
mkdirSync(folder, { recursive: true });
function bigLog(rows: number): string {
	const path = join(folder, `log-${rows}.csv`);
	if (!existsSync(path)) writeBigLog(path, rows);
	return path;
}
const file = bigLog(ROWS);
const megabytes = statSync(file).size / 1e6;
console.log(`${ROWS} rows × ${COLUMNS} columns, ${megabytes.toFixed(0)} MB, median of ${ROUNDS} rounds\n`);

const ours: Measured[] = [];
const theirs: Measured[] = [];
for (let i = 0; i < ROUNDS; i++) {
	ours.push(measure('read-ours', file));
	theirs.push(measure('read-udsv', file));
}
const of = (list: Measured[], name: string) => median(list.map((m) => m[name]!));
const screened = await measureBundled('screen', file);

const lines: [string, string, string, boolean][] = [];
const ratio = of(theirs, 'ms') / of(ours, 'ms');
lines.push([
	'reading bytes to canonical columns, against uDSV (chunked, typed) on the same file',
	`${ratio.toFixed(1)} × as fast (${of(ours, 'ms').toFixed(0)} against ${of(theirs, 'ms').toFixed(0)} ms)`,
	'at least 3 ×',
	ratio >= 3
]);
const memory = of(ours, 'peakMb') / megabytes;
lines.push([
	'memory of reading, over the size of the file (above an idle process)',
	`${memory.toFixed(2)} ×`,
	'under 3 ×',
	memory < 3
]);
lines.push([
	'screening those columns with all checks as a worker does, compiled code warm',
	`${screened['warmMs']!.toFixed(0)} ms (first in a process: ${screened['coldMs']!.toFixed(0)} ms)`,
	'under 1000 ms',
	screened['warmMs']! < 1000
]);
lines.push([
	'memory of that process at its highest, log and all',
	`${screened['peakMb']!.toFixed(0)} MB`,
	'under 600 MB',
	screened['peakMb']! < 600
]);
lines.push([
	'bilinear binning of all samples into 24 × 20 cells, against one plain pass over three columns',
	`${screened['binRatio']!.toFixed(1)} × (${screened['binMs']!.toFixed(1)} ms)`,
	'',
	true
]);
lines.push([
	'one zoom of a trace from the pyramid',
	`${screened['zoomMs']!.toFixed(2)} ms`,
	'under 5 ms',
	screened['zoomMs']! < 5
]);
const calibrations = await measureBundled('calibrations', file);
lines.push([
	'comparing two calibrations of 300 tables, against writing both out as text',
	`${calibrations['compareMs']!.toFixed(0)} ms, ${calibrations['compareRatio']!.toFixed(1)} ×`,
	'under 200 ms',
	calibrations['compareMs']! < 200
]);
lines.push([
	'replaying that log with the next revision',
	`${calibrations['replayMs']!.toFixed(0)} ms`,
	'under 500 ms',
	calibrations['replayMs']! < 500
]);
const proposed = await measureBundled('propose', file);
lines.push([
	'proposing from that log on a table of 40 × 40',
	`${proposed['oneMs']!.toFixed(0)} ms (${proposed['passRatio']!.toFixed(0)} × a plain pass over three columns)`,
	'under 500 ms',
	proposed['oneMs']! < 500
]);
lines.push([
	'the same from five such logs',
	`${proposed['fiveMs']!.toFixed(0)} ms`,
	'under 2000 ms',
	proposed['fiveMs']! < 2000
]);
// The long one: ten hours at 20 Hz.
const long = bigLog(LONG_ROWS);
const longOurs: Measured[] = [];
const longTheirs: Measured[] = [];
for (let i = 0; i < LONG_ROUNDS; i++) {
	longOurs.push(measure('read-ours', long));
	longTheirs.push(measure('read-udsv', long));
}
const longRatio = of(longTheirs, 'ms') / of(longOurs, 'ms');
lines.push([
	`the same with ${LONG_ROWS} rows, ${(statSync(long).size / 1e6).toFixed(0)} MB`,
	`${longRatio.toFixed(1)} × as fast (${of(longOurs, 'ms').toFixed(0)} against ${of(longTheirs, 'ms').toFixed(0)} ms)`,
	'at least 3 ×',
	longRatio >= 3
]);
// Other dialects, against the library on the plain comma file of the same rows, which is what it reads best.
const base = bigLog(DIALECT_ROWS);
const reference = [0, 1, 2].map(() => measure('read-udsv', base)['ms']!);
for (const name of Object.keys(DIALECTS)) {
	const path = join(folder, `dialect-${name.replace(/\W+/g, '-')}.csv`);
	if (!existsSync(path)) writeDialect(base, path, name);
	const times = [0, 1, 2].map(() => measure('read-ours', path)['ms']!);
	const share = median(reference) / median(times);
	lines.push([
		`reading ${name}, against uDSV on plain comma text`,
		`${share.toFixed(1)} × as fast`,
		name === 'gzip' ? '' : 'not slower',
		name === 'gzip' || share >= 1
	]);
}
const dropped = measure('drop', long);
lines.push([
	`from drop to verdict on the server, ${LONG_ROWS} rows`,
	`${(dropped['verdictMs']! / 1000).toFixed(1)} s`,
	'under 20 s',
	dropped['verdictMs']! < 20_000
]);
lines.push([
	'slowest page of the server meanwhile',
	`${dropped['slowestAnswerMs']!.toFixed(0)} ms`,
	'under 200 ms',
	dropped['slowestAnswerMs']! < 200
]);
lines.push([
	'columns as stored, over the text',
	`${(100 * dropped['columnShare']!).toFixed(0)} % (received file compressed: ${(100 * dropped['fileShare']!).toFixed(0)} %)`,
	'at most 25 %',
	dropped['columnShare']! <= 0.25
]);
const page = measure('page', file);
lines.push([
	'from drop to verdict on the server',
	`${(page['verdictMs']! / 1000).toFixed(1)} s`,
	'under 5 s',
	page['verdictMs']! < 5000
]);
lines.push([
	'slowest page of the server meanwhile',
	`${page['slowestAnswerMs']!.toFixed(0)} ms`,
	'under 200 ms',
	page['slowestAnswerMs']! < 200
]);
lines.push([
	'from opening the page of the log to drawn traces, against opening the queue',
	`${page['tracesMs']!.toFixed(0)} ms, ${(page['tracesMs']! / page['queueMs']!).toFixed(1)} ×`,
	'under 1000 ms',
	page['tracesMs']! < 1000
]);
lines.push([
	'from a turn of the wheel to the drawn picture',
	`${page['zoomMs']!.toFixed(0)} ms`,
	'under 50 ms',
	page['zoomMs']! < 50
]);
lines.push([
	'from a filter of the cell map to the drawn picture',
	`${page['filterMs']!.toFixed(0)} ms`,
	'under 50 ms',
	page['filterMs']! < 50
]);
lines.push([
	'an edit of all cells of a 40 × 40 table in the grid, to the drawn picture',
	`${page['gridMs']!.toFixed(0)} ms for one cell, ${page['gridAllMs']!.toFixed(0)} ms for all 1600`,
	'one cell under 100 ms',
	page['gridMs']! < 100
]);
for (const [what, value, limit, ok] of lines)
	console.log(`${ok ? 'ok  ' : 'MISS'} ${what}: ${value}${limit ? `  [${limit}]` : ''}`);
process.exitCode = lines.every((l) => l[3]) ? 0 : 1;
