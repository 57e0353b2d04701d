/**
 * `npm run convergence [-- SEEDS]`: the loop of proposal → release → log → proposal on the stand-in vehicle, from a base that is wrong
 * by up to 20 %, for each fuel model, boosted and not. Writes `docs/convergence.md`: by revision the share of visited cells within 2 %,
 * the worst real knock, and the leanest boosted pull, which must never be leaner than where it began.
 */
import { FLAG } from '../src/core/evidence/segments/kinds.ts';
import { prepare } from '../src/core/evidence/prepare.ts';
import type { Prepared } from '../src/core/evidence/prepared.ts';
import { writeFileSync } from 'node:fs';
import { parseCalibration, type Calibration, type FuelModel } from '../src/core/calibration/document.ts';
import { readLog } from '../src/core/logfile/read.ts';
import { cellStats } from '../src/core/evidence/cells/stats.ts';
import { axisChannel } from '../src/core/calibration/axes.ts';
import { usable } from '../src/core/evidence/lambda/required.ts';
import { nodesOf } from '../src/core/correction/nodes.ts';
import { propose, withChanges } from '../src/core/revising/revise.ts';
import { screenPrepared } from '../src/core/screening/screen.ts';
import { baseCalibration } from '../src/core/simulator/base-calibration.ts';
import { standardDrive } from '../src/core/simulator/drive.ts';
import { logText } from '../src/core/simulator/log-text.ts';
import { Rng } from '../src/core/stats/rng.ts';
import { simulate } from '../src/core/simulator/simulate.ts';
import { gaugeStoich, readContextOf, type Vehicle } from '../src/core/vehicle/document.ts';
import { VEHICLES } from './demo/world.ts';

const seeds = Number(process.argv[2] ?? 5);
const REVISIONS = 3;
const WITHIN_PCT = 2;
const ENOUGH = 95;
/** What the leanest 0.4 s of a log still reads over target on a calibration that is right: the last column of the table shows it. */
const SCATTER_PCT = 1.5;
/** Lean and rich ends of the base's error: fuel comes out in small steps, so a base that is far too rich takes longer than three. */
const LEAN = -0.2;
const RICH = 0.1;

const CASES: [string, Vehicle, FuelModel][] = [
	['boosted', VEHICLES.marl, 'speed-density'],
	['boosted', VEHICLES.marl, 'pulse-width'],
	['boosted', VEHICLES.marl, 'maf'],
	['not boosted', VEHICLES.finch, 'speed-density'],
	['not boosted', VEHICLES.finch, 'pulse-width'],
	['not boosted', VEHICLES.finch, 'maf']
];

/** A smooth error over engine speed and load between the two ends, another one for each seed. */
function errorOf(seed: number): (rpm: number, load: number) => number {
	const rng = new Rng(seed * 977 + 5);
	const [a, b, c, d] = [rng.next(), rng.next(), rng.next(), rng.next()];
	const tilt = 0.5 + 1.2 * a;
	return (rpm, load) => {
		const wave = 0.5 + 0.5 * Math.sin(tilt * 2.4 * rpm + 6.28 * b + (1.2 + c) * 2.2 * load + 6.28 * d);
		return LEAN + (RICH - LEAN) * wave;
	};
}

function drive(vehicle: Vehicle, calibration: Calibration, seed: number): Prepared {
	const text = logText(
		simulate({
			vehicle,
			calibration,
			drive: standardDrive(vehicle.transmission?.gears?.length ?? 5, vehicle.engine.revLimitRpm),
			seed,
			rateHz: 20
		}),
		{ gaugeStoich: gaugeStoich(vehicle) }
	);
	const log = readLog([new TextEncoder().encode(text)], readContextOf(vehicle));
	return prepare(log, { vehicle, calibrations: [calibration] });
}

interface State {
	/** Share of the visited cells of the fuel item within 2 %, percent. */
	within: number;
	/** Peak of knock that counts as real, while loaded, degrees. */
	knock: number;
	/** Leanest 0.4 s of any boosted (else fully open) pull against its target, percent. */
	leanest: number;
}

function stateOf(input: Prepared): State {
	const { frame, segments, required, believed } = input;
	const table = nodesOf(input.calibration!).tables[0]!;
	const x = axisChannel(frame, table.x, segments.baroKpa)!;
	const y = table.y ? axisChannel(frame, table.y, segments.baroKpa)! : new Float32Array(frame.length);
	const use = Uint8Array.from(segments.flags, (_, i) => (usable(segments, i) ? 1 : 0));
	const stats = cellStats({
		axes: {
			xChannel: table.x.channel,
			x: [...table.x.points],
			yChannel: table.y?.channel ?? '',
			y: [...(table.y?.points ?? [0])]
		},
		x,
		y,
		value: required.banks[0]!,
		use,
		timeS: frame.timeS,
		dtS: frame.dtS,
		lagS: believed.lagS,
		method: 'bilinear'
	});
	let visited = 0;
	let good = 0;
	for (let c = 0; c < stats.n.length; c++) {
		if (stats.n[c]! < 10 || stats.seconds[c]! < 0.5) continue;
		visited++;
		if (Math.abs(stats.mean[c]! - 1) * 100 <= WITHIN_PCT) good++;
	}
	const knock = (input.knock ?? []).filter((e) => e.loaded && e.shape !== 'blips' && e.peakDeg >= 1);
	const k = required.banks[0]!;
	const width = Math.max(1, Math.round(0.4 / frame.stepS));
	let leanest = -Infinity;
	for (const pull of segments.pulls)
		for (let i = pull.from + width; i <= pull.to; i++) {
			let sum = 0;
			let n = 0;
			for (let j = i - width; j < i; j++)
				if (k[j] === k[j] && segments.flags[j]! & FLAG.loaded) {
					sum += k[j]!;
					n++;
				}
			if (n >= width / 2) leanest = Math.max(leanest, 100 * (sum / n - 1));
		}
	return {
		within: visited ? (100 * good) / visited : 0,
		knock: Math.max(0, ...knock.map((e) => e.peakDeg)),
		leanest
	};
}

const rows: string[] = [];
const sums: string[] = [];
let failed = 0;
for (const [kind, vehicle, fuelModel] of CASES) {
	let done = 0;
	let leaner = 0;
	const lines: string[] = [];
	for (let seed = 1; seed <= seeds; seed++) {
		let calibration = parseCalibration(
			baseCalibration({ vehicle, fuelModel, name: 'base', fuelError: errorOf(seed), timingMarginDeg: 0 })
		);
		const states: State[] = [];
		for (let r = 0; r <= REVISIONS; r++) {
			const input = drive(vehicle, calibration, seed * 100 + r);
			states.push(stateOf(input));
			if (r === REVISIONS) break;
			const proposal = propose([{ input, findings: screenPrepared(input).findings }]);
			calibration = withChanges(calibration, proposal.changes);
		}
		const reached = states.some((s, r) => r > 0 && s.within >= ENOUGH && s.knock === 0);
		if (reached) done++;
		const began = states[0]!.leanest;
		if (states.slice(1).some((s) => s.leanest > Math.max(began + 0.5, SCATTER_PCT))) leaner++;
		lines.push(
			`| ${kind} | ${fuelModel} | ${seed} | ${states
				.map(
					(s) =>
						`${s.within.toFixed(0)} % · ${s.knock.toFixed(1)}° · ${s.leanest >= 0 ? '+' : ''}${s.leanest.toFixed(1)} %`
				)
				.join(' | ')} | ${reached ? 'yes' : 'no'} |`
		);
	}
	const ok = done >= Math.ceil(seeds * 0.8) && leaner === 0;
	if (!ok) failed++;
	rows.push(...lines);
	sums.push(
		`- ${kind}, ${fuelModel}: ${done} of ${seeds} reached; in ${leaner} of them a pull was made leaner`
	);
	console.log(lines.join('\n'));
	console.log(
		`${kind}, ${fuelModel}: ${done} of ${seeds} reached, ${leaner} made a pull leaner: ${ok ? 'ok' : 'NOT ENOUGH'}`
	);
}
writeFileSync(
	'docs/convergence.md',
	`# Does the loop end?

Made by \`npm run convergence\`: the stand-in vehicle from a base whose fuel is between ${(-100 * LEAN).toFixed(0)} % lean and ${(100 * RICH).toFixed(0)} % rich, smoothly over its cells, with
timing right at its knock limit; every proposal accepted as it is, with the default settings. By revision: share of visited cells within
${WITHIN_PCT} % · worst real knock under load · leanest 0.4 s of a pull against its target. A pull counts as made leaner when its
leanest 0.4 s is over ${SCATTER_PCT} % (the scatter of a right calibration) and over where it began. Reached: ${ENOUGH} % of the cells and no knock, by R${REVISIONS} at the latest.

| engine | fuel model | seed | ${Array.from({ length: REVISIONS + 1 }, (_, r) => `R${r}`).join(' | ')} | reached |
|---|---|---|${'---|'.repeat(REVISIONS + 1)}---|
${rows.join('\n')}

${sums.join('\n')}
`
);
process.exitCode = failed ? 1 : 0;
