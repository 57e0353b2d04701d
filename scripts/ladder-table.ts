/**
 * `npm run climbs [-- SEEDS]`: the stand-in climbs by the ladder alone, a person setting nothing but the boost cut. Writes `docs/climbs.md`: by kind of
 * engine how far it came, the longest knock over 2° in a rung, the leanest pull, and what ended it.
 */
import { writeFileSync } from 'node:fs';
import { findItem, findMap, parseCalibration, type Calibration } from '../src/core/calibration/document.ts';
import { ladderOf } from '../src/core/climbing/ladder.ts';
import type { LadderCase } from '../src/core/climbing/case.ts';
import { FLAG } from '../src/core/evidence/segments/kinds.ts';
import { prepare } from '../src/core/evidence/prepare.ts';
import { fixed } from '../src/core/format.ts';
import { parseGoal } from '../src/core/fuelling/goal.ts';
import { readLog } from '../src/core/logfile/read.ts';
import { withChanges } from '../src/core/revising/revise.ts';
import { screenPrepared } from '../src/core/screening/screen.ts';
import { baseCalibration } from '../src/core/simulator/base-calibration.ts';
import { standardDrive } from '../src/core/simulator/drive.ts';
import type { Faults } from '../src/core/simulator/faults.ts';
import { logText } from '../src/core/simulator/log-text.ts';
import { simulate } from '../src/core/simulator/simulate.ts';
import { gaugeStoich, parseVehicle, readContextOf, type Vehicle } from '../src/core/vehicle/document.ts';
import { VEHICLES } from './demo/world.ts';

const seeds = Number(process.argv[2] ?? 6);
const RUNGS = 18;
/** Longest hidden knock over 2° in a rung, and leanest boosted mixture over its target. */
const MOST_KNOCK_S = 0.3;
const MOST_LEAN_PCT = 3;
const roomy = (v: Vehicle): Vehicle =>
	parseVehicle({ ...v, injectors: { ...v.injectors, flowCcMin: (v.injectors?.flowCcMin ?? 600) * 2 } });
const KINDS: { name: string; vehicle: Vehicle; boost: number | null; start: number; faults: Faults }[] = [
	{ name: 'turbo, petrol', vehicle: roomy(VEHICLES.marl), boost: 170, start: 140, faults: {} },
	{ name: 'blown, ethanol', vehicle: VEHICLES.ousel, boost: 170, start: 140, faults: {} },
	{ name: 'aspirated, petrol', vehicle: VEHICLES.drover, boost: null, start: 0, faults: {} },
	{
		name: 'turbo, poor fuel',
		vehicle: roomy(VEHICLES.marl),
		boost: 180,
		start: 150,
		faults: { octaneRon: 95 }
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

const rows: string[] = [];
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
		let worstKnockS = 0;
		let leanest = 0;
		let end = 'still climbing';
		for (let n = 0; n < RUNGS; n++) {
			const text = logText(
				simulate({
					vehicle,
					calibration: c,
					drive: standardDrive(vehicle.transmission?.gears?.length ?? 5, vehicle.engine.revLimitRpm),
					faults: k.faults,
					seed: seed * 100 + n,
					rateHz: 20
				}),
				{ gaugeStoich: gaugeStoich(vehicle), style: 'brackets' }
			);
			const input = prepare(readLog([new TextEncoder().encode(text)], readContextOf(vehicle)), {
				vehicle,
				calibrations: [c]
			});
			const report = screenPrepared(input);
			const retard = input.frame.get('knockRetard');
			let knockS = 0;
			if (retard) for (let i = 0; i < retard.length; i++) if (retard[i]! > 2) knockS += input.frame.dtS[i]!;
			worstKnockS = Math.max(worstKnockS, knockS);
			const lambda = input.believed.banks[0]!;
			for (let i = 0; i < lambda.length; i++)
				if (input.segments.flags[i]! & FLAG.boosted && !input.believed.hidden[i])
					leanest = Math.max(leanest, 100 * (lambda[i]! / input.target.values![i]! - 1));
			const ladder: LadderCase = { calibration: c, logs: [{ input, report }], vehicle, goal };
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
		rows.push(
			`| ${k.name} | ${seed} | ${path.length} | ${path.filter((p) => p.startsWith('boost')).length} | ${topBoost(c) ?? '–'} | ${fixed(Math.max(...spark.values.flatMap((row, r) => row.map((v, x) => v - start[r]![x]!))), 1)} | ${fixed(worstKnockS, 2)} | ${fixed(leanest, 1)} | ${end} |`
		);
		process.stderr.write(`${rows.at(-1)}\n`);
	}
const text = `# Climbs of the stand-in by the ladder alone

Made by \`npm run climbs\`, ${seeds} seeds of each kind. A person does nothing but verify base timing and set the boost cut over the next set point. "Knock" is the longest time over 2° of
retard in the log of a rung (at most ${MOST_KNOCK_S} s), "lean" the leanest boosted sample over its target (at most ${MOST_LEAN_PCT} %); how far the end stands from the hidden limit isn't measured.

| engine | seed | rungs | of boost | boost at the end, kPa | most timing gained, ° | knock, s | lean, % | what ended it |
|---|---|---|---|---|---|---|---|---|
${rows.join('\n')}

Beyond those bounds: ${bad} of ${rows.length}.
`;
writeFileSync('docs/climbs.md', text);
process.stdout.write(text);
if (bad) process.exit(1);
