/**
 * `npm run swaps [-- SEEDS]`: swap tests of causes that were planted in the stand-in vehicle, answered by the rule. Writes `docs/swap-tests.md`:
 * by cause and size how often the right one, a wrong one and none is named. A wrong cause costs a customer a set of injectors.
 */
import { writeFileSync } from 'node:fs';
import { parseCalibration } from '../src/core/calibration/document.ts';
import { fixed } from '../src/core/format.ts';
import { readLog } from '../src/core/logfile/read.ts';
import { baseCalibration } from '../src/core/simulator/base-calibration.ts';
import type { DriveStep } from '../src/core/simulator/drive.ts';
import type { Faults } from '../src/core/simulator/faults.ts';
import { logText } from '../src/core/simulator/log-text.ts';
import { simulate } from '../src/core/simulator/simulate.ts';
import { Rng } from '../src/core/stats/rng.ts';
import type { Swap } from '../src/core/swaps/document.ts';
import { judgeSwap } from '../src/core/swaps/judge.ts';
import { gaugeStoich, readContextOf } from '../src/core/vehicle/facts.ts';
import { VEHICLES } from '../src/core/simulator/vehicles.ts';

const seeds = Number(process.argv[2] ?? 200);
const SIZES_PCT: [number, number][] = [
	[0, 4],
	[4, 6],
	[6, 15]
];
/** Wrong causes may be named in fewer. */
const MOST_WRONG = 0.02;
/** A day's repeatability of one log, as the trade sees it. */
const DAY = 0.007;
const vehicle = { ...VEHICLES.drover, sensors: {} };
const calibration = parseCalibration(
	baseCalibration({ vehicle, fuelModel: 'speed-density', name: 'c', timingMarginDeg: 8 })
);
const drive: DriveStep[] = [
	{ kind: 'idle', seconds: 12 },
	{ kind: 'cruise', gear: 4, speedKmh: 60, seconds: 14 },
	{ kind: 'accelerate', gear: 3, pedalPct: 45, fromRpm: 1700, toRpm: 4200 },
	{ kind: 'coast', gear: 3, toRpm: 2000 },
	{ kind: 'pull', gears: [3], fromRpm: 2000, toRpm: 5300 },
	{ kind: 'coast', gear: 3, toRpm: 2000 },
	{ kind: 'pull', gears: [3], fromRpm: 2000, toRpm: 5300 }
];

type Cause = 'injectors' | 'sensor' | 'place' | 'none' | 'injectors and place, half each';
const CAUSES: Cause[] = ['injectors', 'sensor', 'place', 'none', 'injectors and place, half each'];
const KINDS: Swap[] = [
	{ schema: 'tanto.swap/1', kind: 'injectors-side-to-side' },
	{ schema: 'tanto.swap/1', kind: 'lambda-side-to-side', labels: 'stay-with-bank' }
];
/** What may be named; undecided is never wrong, and "gone" says itself that two equal halves look so. */
function isRight(kind: Swap['kind'], cause: Cause, answer: string): boolean {
	const injectors = kind === 'injectors-side-to-side';
	if (cause === 'injectors and place, half each')
		return injectors ? answer === 'gone' || answer === 'two-parts' : answer === 'stayed';
	if (cause === 'injectors') return answer === (injectors ? 'moved' : 'stayed');
	if (cause === 'sensor') return answer === (injectors ? 'stayed' : 'moved');
	return cause === 'place' && answer === 'stayed';
}

function logOf(faults: Faults, seed: number) {
	const text = logText(simulate({ vehicle, calibration, drive, faults, seed, rateHz: 10 }), {
		gaugeStoich: gaugeStoich(vehicle),
		style: 'brackets'
	});
	return {
		log: readLog([new TextEncoder().encode(text)], readContextOf(vehicle)),
		context: { vehicle, calibrations: [calibration] }
	};
}

/** The engine with a cause of a size on bank 2, before and after a swap, on a day of its own. */
function faultsOf(cause: Cause, size: number, swapped: Swap['kind'] | null, rng: Rng): Faults {
	const flow: [number, number] = [1, 1];
	const air: [number, number] = [Math.exp(DAY * rng.normal()), 1];
	const sensor: [number, number] = [1, 1];
	const at = (moves: boolean): 0 | 1 => (moves ? 0 : 1);
	if (cause === 'injectors') flow[at(swapped === 'injectors-side-to-side')] = 1 / (1 + size);
	if (cause === 'sensor') sensor[at(swapped === 'lambda-side-to-side')] = 1 + size;
	if (cause === 'place') air[1] *= 1 + size;
	if (cause === 'injectors and place, half each') {
		flow[at(swapped === 'injectors-side-to-side')] = 1 / (1 + size / 2);
		air[1] *= 1 + size / 2;
	}
	return { bankFlow: flow, bankAir: air, bankSensor: sensor };
}

const rng = new Rng(7);
const tally = new Map<string, { right: number; wrong: number; none: number }>();
for (let seed = 0; seed < seeds; seed++) {
	const [low, high] = SIZES_PCT[seed % SIZES_PCT.length]!;
	for (const cause of CAUSES) {
		const size = cause === 'none' ? 0 : (low + (high - low) * rng.next()) / 100;
		const before = logOf(faultsOf(cause, size, null, rng), seed * 3 + 1);
		for (const swap of KINDS) {
			const after = logOf(faultsOf(cause, size, swap.kind, rng), seed * 3 + 2);
			const { answer } = judgeSwap(swap, before, after);
			const key = `${swap.kind}|${cause}|${cause === 'none' ? '0' : `${low} to ${high}`}`;
			const t = tally.get(key) ?? { right: 0, wrong: 0, none: 0 };
			tally.set(key, t);
			if (answer === 'undecided' || answer === 'not-comparable') t.none++;
			else if (isRight(swap.kind, cause, answer)) t.right++;
			else t.wrong++;
		}
	}
	process.stderr.write(`\r${seed + 1} of ${seeds}`);
}
process.stderr.write('\n');
const rows = [...tally].sort(([a], [b]) => a.localeCompare(b, 'en', { numeric: true }));
const all = rows.reduce((s, [, t]) => ({ n: s.n + t.right + t.wrong + t.none, wrong: s.wrong + t.wrong }), {
	n: 0,
	wrong: 0
});
const share = (n: number, of: number) => `${fixed((100 * n) / of, 0)} %`;
const text = `# Swap tests, simulated

Made by \`npm run swaps\`, ${seeds} seeds. Causes were planted in the stand-in vehicle; each log has a day of its own (0.7 %). "Right" is the
cause that was planted; two equal halves are right as "gone" or "two parts", because the logs can't tell them apart before everything is put
back; "none" is undecided.

| swapped | planted | size, % | right | wrong | none |
|---|---|---|---|---|---|
${rows
	.map(([key, t]) => {
		const n = t.right + t.wrong + t.none;
		return `| ${key.split('|').join(' | ')} | ${share(t.right, n)} | ${share(t.wrong, n)} | ${share(t.none, n)} |`;
	})
	.join('\n')}

A wrong cause was named in ${all.wrong} of ${all.n} tests (${fixed((100 * all.wrong) / all.n, 1)} %; at most ${100 * MOST_WRONG} % are allowed).
`;
writeFileSync('docs/swap-tests.md', text);
process.stdout.write(text);
if (all.wrong > MOST_WRONG * all.n) process.exit(1);
