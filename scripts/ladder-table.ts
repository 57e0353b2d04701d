/**
 * `npm run climbs [-- SEEDS]`: the stand-in climbs by the ladder alone, a person setting nothing but the boost cut. Writes `docs/climbs.md`: by kind of
 * engine how far it came, the longest knock over 2° in a rung, the leanest pull, and what ended it.
 */
import { writeFileSync } from 'node:fs';
import { parseCalibration, type Calibration } from '../src/core/calibration/document.ts';
import { findItem, findMap } from '../src/core/calibration/lookup.ts';
import { ladderOf } from '../src/core/climbing/ladder.ts';
import type { EarlierRung, LadderCase } from '../src/core/climbing/case.ts';
import { FLAG } from '../src/core/evidence/segments/kinds.ts';
import { prepare } from '../src/core/evidence/prepare.ts';
import { fixed } from '../src/core/format.ts';
import { parseGoal } from '../src/core/fuelling/goal.ts';
import { readLog } from '../src/core/logfile/read.ts';
import { withChanges } from '../src/core/revising/changes.ts';
import { screenPrepared } from '../src/core/screening/screen.ts';
import { baseCalibration } from '../src/core/simulator/base-calibration.ts';
import { standardDrive } from '../src/core/simulator/drive.ts';
import type { Faults } from '../src/core/simulator/faults.ts';
import { logText } from '../src/core/simulator/log-text.ts';
import { simulate } from '../src/core/simulator/simulate.ts';
import { knockLimitDeg } from '../src/core/simulator/truth.ts';
import { along } from '../src/core/calibration/along.ts';
import type { Prepared } from '../src/core/evidence/prepared.ts';
import { quantileInPlace } from '../src/core/stats/stats.ts';
import { parseVehicle, type Vehicle } from '../src/core/vehicle/document.ts';
import { gaugeStoich, readContextOf } from '../src/core/vehicle/facts.ts';
import { VEHICLES } from '../src/core/simulator/vehicles.ts';

const seeds = Number(process.argv[2] ?? 6);
const RUNGS = 18;
/** Rungs that the ladder remembers, as the application gives them. */
const RUNGS_BACK = 3;
/** Longest hidden knock over 2° in a rung, and leanest boosted mixture over its target. */
const MOST_KNOCK_S = 0.3;
const MOST_LEAN_PCT = 3;
const roomy = (v: Vehicle): Vehicle =>
	parseVehicle({ ...v, injectors: { ...v.injectors, flowCcMin: (v.injectors?.flowCcMin ?? 600) * 2 } });
/** Timing of the most torque: far over what knock allows, so that each degree gives something. */
const TOP_DEG = 38;
interface Kind {
	name: string;
	vehicle: Vehicle;
	boost: number | null;
	start: number;
	faults: Faults;
	ambientC?: number;
	/** Timing gives no torque. */
	flat?: boolean;
}
const KINDS: Kind[] = [
	{ name: 'turbo, petrol', vehicle: roomy(VEHICLES.marl), boost: 170, start: 140, faults: {} },
	{ name: 'blown, ethanol', vehicle: VEHICLES.ousel, boost: 170, start: 140, faults: {} },
	{ name: 'aspirated, petrol', vehicle: VEHICLES.drover, boost: null, start: 0, faults: {} },
	{
		name: 'turbo, poor fuel',
		vehicle: roomy(VEHICLES.marl),
		boost: 170,
		start: 140,
		faults: { octaneRon: 95 }
	},
	{
		name: 'turbo, hot cooler',
		vehicle: roomy(VEHICLES.marl),
		boost: 170,
		start: 140,
		faults: { coolerLossPerKpa: 0.25 }
	},
	{
		name: 'turbo, overshoot',
		vehicle: roomy(VEHICLES.marl),
		boost: 170,
		start: 140,
		faults: { overboost: 0.12 }
	},
	{ name: 'turbo, on a row', vehicle: roomy(VEHICLES.marl), boost: 160, start: 140, faults: {} },
	{ name: 'turbo, hot day', vehicle: roomy(VEHICLES.marl), boost: 170, start: 140, faults: {}, ambientC: 33 },
	{
		name: 'turbo, learned table',
		vehicle: roomy(VEHICLES.marl),
		boost: 170,
		start: 140,
		faults: { learnedRetardDeg: 3 }
	},
	{ name: 'aspirated, no gain', vehicle: VEHICLES.drover, boost: null, start: 0, faults: {}, flat: true },
	{
		name: 'turbo, weak pump',
		vehicle: roomy(VEHICLES.marl),
		boost: 170,
		start: 140,
		faults: { pressureSagKpa: 60 }
	}
];

/** The car as a person leaves it: base timing verified, the boost cut right over the next set point. */
function prepared(c: Calibration, nextKpa: number | null): Calibration {
	const items = c.items.filter(
		(i) => i.id !== 'spark.baseVerified' && (i.id !== 'limit.boost' || nextKpa === null)
	);
	return parseCalibration({
		...c,
		items: [
			...items,
			{ id: 'spark.baseVerified', kind: 'setting', value: 'timing light' },
			...(nextKpa === null ? [] : [{ id: 'limit.boost', kind: 'scalar', unit: 'kPa', value: nextKpa + 12 }])
		]
	});
}
/** With a set point from which there is something to climb; the tables reach further. */
function lowered(c: Calibration, toKpa: number | null): Calibration {
	return toKpa === null
		? c
		: parseCalibration({
				...c,
				items: c.items.map((i) =>
					i.id === 'boost.target' && i.kind === 'curve'
						? { ...i, values: i.values.map((v) => Math.min(v, toKpa)) }
						: i
				)
			});
}
const topBoost = (c: Calibration) => {
	const item = findItem(c, 'boost.target');
	return item?.kind === 'curve' ? Math.max(...item.values) : null;
};

/** What a final timing keeps in hand, and how near the end has to come to that. */
const RESERVE_DEG = 2;
const NEAR_DEG = 1.5;
/** The tightest few percent of the pulls are where an engine ends. */
const TIGHTEST = 0.05;

/** How far the table stands below the hidden limit where it is tightest in the pulls, degrees. */
function hiddenMarginDeg(input: Prepared, c: Calibration, octaneRon: number): number {
	const { frame, segments, vehicle } = input;
	const [rpm, map, iat] = ['rpm', 'map', 'iat'].map((id) => frame.get(id)!) as [
		Float32Array,
		Float32Array,
		Float32Array
	];
	const maf = frame.get('maf');
	const table = along(frame, c, 'spark.table', segments.baroKpa)!;
	const lambda = input.believed.banks.flatMap((b) => b ?? []);
	const margins: number[] = [];
	for (const pull of segments.pulls)
		for (let i = pull.from; i <= pull.to; i++) {
			const leanest = Math.max(...lambda.map((l) => l[i]!).filter((v) => v === v));
			const airmass = maf
				? (maf[i]! * 120) / rpm[i]! / (vehicle.engine.displacementL ?? 1)
				: (0.9 * map[i]! * 1000) / (287.05 * (iat[i]! + 273.15));
			const m = knockLimitDeg(vehicle, octaneRon, rpm[i]!, airmass, iat[i]!, leanest) - table[i]!;
			if (Number.isFinite(m)) margins.push(m);
		}
	return quantileInPlace(Float64Array.from(margins), TIGHTEST);
}

function driven({ vehicle, ambientC, faults, flat }: Kind, calibration: Calibration, seed: number): Prepared {
	const text = logText(
		simulate({
			vehicle,
			calibration,
			drive: standardDrive(vehicle.transmission?.gears?.length ?? 5, vehicle.engine.revLimitRpm),
			faults: flat ? faults : { ...faults, torqueTopDeg: TOP_DEG },
			seed,
			rateHz: 20,
			...(ambientC === undefined ? {} : { ambientC })
		}),
		{ gaugeStoich: gaugeStoich(vehicle), style: 'brackets' }
	);
	return prepare(readLog([new TextEncoder().encode(text)], readContextOf(vehicle)), {
		vehicle,
		calibrations: [calibration]
	});
}

const rows: string[] = [];
/** Climbs that nothing else ended, and those of them that came as near to the limit as they should. */
let free = 0;
let near = 0;
let bad = 0;
for (const k of KINDS)
	for (let seed = 0; seed < seeds; seed++) {
		const { vehicle } = k;
		const goal = parseGoal({
			schema: 'tanto.goal/1',
			timingCeilingDeg: 40,
			...(k.boost
				? {
						boostKpa: [
							[1000, 100],
							[3000, k.boost]
						]
					}
				: {})
		});
		let c = prepared(
			lowered(
				parseCalibration(
					baseCalibration({
						vehicle,
						fuelModel: 'speed-density',
						name: 'base',
						timingMarginDeg: 6,
						...(k.boost ? { boostKpa: k.boost + 60 } : {})
					})
				),
				k.boost ? k.start : null
			),
			k.boost ? Math.min(k.boost, k.start + 20) : null
		);
		const start = findMap(c, 'spark.table')!.values;
		const path: string[] = [];
		const earlier: EarlierRung[] = [];
		let worstKnockS = 0;
		let leanest = 0;
		let end = 'still climbing';
		for (let n = 0; n < RUNGS; n++) {
			const input = driven(k, c, seed * 100 + n);
			const report = screenPrepared(input);
			const retard = input.frame.get('knockRetard');
			let knockS = 0;
			if (retard) for (let i = 0; i < retard.length; i++) if (retard[i]! > 2) knockS += input.frame.dtS[i]!;
			// The first drive is of the car as it came: nothing of it is the ladder's doing.
			if (n > 0) worstKnockS = Math.max(worstKnockS, knockS);
			const lambda = input.believed.banks[0]!;
			for (let i = 0; i < lambda.length; i++)
				if (n > 0 && input.segments.flags[i]! & FLAG.boosted && !input.believed.hidden[i])
					leanest = Math.max(leanest, 100 * (lambda[i]! / input.target.values![i]! - 1));
			const logs = [{ input, report }];
			const ladder: LadderCase = { calibration: c, logs, earlier: earlier.slice(-RUNGS_BACK), vehicle, goal };
			const answer = ladderOf(ladder);
			const shut = answer.gates.filter((g) => !g.open);
			path.push(answer.rung.kind + (answer.rung.to === null ? '' : ` ${fixed(answer.rung.to, 0)}`));
			if (process.env['LOUD'])
				console.error(
					n,
					JSON.stringify(answer.rung),
					shut.map((g) => `${g.id}: ${g.why}`),
					answer.end?.reason ?? ''
				);
			earlier.push({ calibration: c, logs });
			if (answer.changes.length) c = withChanges(c, answer.changes);
			if (answer.end || (answer.changes.length === 0 && shut.length)) {
				end = answer.end?.reason ?? shut.map((g) => `${g.id}: ${g.why}`).join(' ');
				break;
			}
			const set = topBoost(c);
			c = prepared(c, k.boost && set !== null ? Math.min(k.boost, set + 20) : null);
		}
		const spark = findMap(c, 'spark.table')!;
		if (worstKnockS > MOST_KNOCK_S || leanest > MOST_LEAN_PCT) bad++;
		const octane = k.faults.octaneRon ?? vehicle.fuel?.octaneRon ?? 98;
		const margin = hiddenMarginDeg(driven(k, c, seed * 100 + 99), c, octane);
		// What a closed gate ended, ended for something else than timing.
		if (!/^\w+: |gives nothing/.test(end)) {
			free++;
			if (Math.abs(margin - RESERVE_DEG) <= NEAR_DEG) near++;
		}
		rows.push(
			`| ${k.name} | ${seed} | ${path.length} | ${path.filter((p) => p.startsWith('boost')).length} | ${topBoost(c) ?? '–'} | ${fixed(Math.max(...spark.values.flatMap((row, r) => row.map((v, x) => v - start[r]![x]!))), 1)} | ${fixed(worstKnockS, 2)} | ${fixed(leanest, 1)} | ${fixed(margin, 1)} | ${end} |`
		);
		process.stderr.write(`${rows.at(-1)}\n`);
	}
const text = `# Climbs of the stand-in by the ladder alone

Made by \`npm run climbs\`, ${seeds} seeds of each kind. A person does nothing but verify base timing and set the boost cut over the next set point. "Knock" is the longest time over 2° of
retard in the log after a rung (at most ${MOST_KNOCK_S} s), "lean" the leanest boosted sample over its target (at most ${MOST_LEAN_PCT} %). "To the hidden limit" is where the final table stands below
the timing at which the stand-in would begin to knock, in the tightest ${100 * TIGHTEST} % of one more drive's pulls: ${RESERVE_DEG}° are to be kept in hand.

| engine | seed | rungs | of boost | boost at the end, kPa | most timing gained, ° | knock, s | lean, % | to the hidden limit, ° | what ended it |
|---|---|---|---|---|---|---|---|---|---|
${rows.join('\n')}

Beyond those bounds: ${bad} of ${rows.length}. Within ${NEAR_DEG}° of the limit less its reserve: ${near} of the ${free} that nothing else ended.
`;
writeFileSync('docs/climbs.md', text);
process.stdout.write(text);
if (bad) process.exit(1);
