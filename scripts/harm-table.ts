/**
 * `npm run harm [-- --worlds N --seed FIRST]`: does the loop hurt an engine? Random worlds of the stand-in: a vehicle, a base that is wrong by
 * up to 12 %, one or two hidden faults. A log is screened, what is proposed without a question is accepted, the same drive is driven again with
 * it, and the hidden truth of every bank and cylinder is compared place by place. *Harm*: leaner by more than 1.5 points and then more than 3 %
 * lean of its target, or more real knock. Harm through cells that are asked about is counted apart. Writes `docs/harm.md`.
 */
import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { canonical } from '../src/core/calibration/canonical.ts';
import { DEFAULT_STRATEGY } from '../src/core/correction/strategy.ts';
import { prepare } from '../src/core/evidence/prepare.ts';
import { readLog } from '../src/core/logfile/read.ts';
import { propose } from '../src/core/revising/revise.ts';
import { withChanges } from '../src/core/revising/changes.ts';
import type { Proposal } from '../src/core/revising/proposal.ts';
import { screenPrepared } from '../src/core/screening/screen.ts';
import { logText } from '../src/core/simulator/log-text.ts';
import { gaugeStoich, readContextOf } from '../src/core/vehicle/facts.ts';
import { WRONGS } from './harm/wrongs.ts';
import {
	hurtPlaces,
	LEANER_POINTS,
	LEAN_PCT,
	MORE_KNOCK_DEG,
	PLACE_KPA,
	PLACE_RPM,
	truthUnderLoad,
	type Truths
} from '../src/core/simulator/truth-under-load.ts';
import { BASE_WRONG, loggedIn, worldOf, type World } from './harm/world.ts';

const { values: given } = parseArgs({
	options: { worlds: { type: 'string', default: '500' }, seed: { type: 'string', default: '1' } }
});
const worlds = Number(given.worlds);
const firstSeed = Number(given.seed);
const MENDED_POINTS = 0.3;

/** What is proposed for a world: without what a person is asked about, and with it. */
function proposalsFor(w: World): { taken: Proposal; asked: Proposal } {
	const text = logText(loggedIn(w), { gaugeStoich: gaugeStoich(w.vehicle) });
	const read = readLog([new TextEncoder().encode(text)], readContextOf(w.vehicle));
	const input = prepare(read, { vehicle: w.vehicle, calibrations: [w.base] });
	const evidence = [{ input, findings: screenPrepared(input).findings }];
	const of = (cautious: boolean) => propose(evidence, { ...DEFAULT_STRATEGY, cautious }, w.base);
	return { taken: of(true), asked: of(false) };
}

/** What is in the car gets the changes: that is what happens to an engine whose file isn't the one that is stated. */
const truthWith = (w: World, p: Proposal): Truths =>
	truthUnderLoad(w, p.changes.length ? canonical(withChanges(w.base, p.changes)) : w.canonicalBase);

/** As words, the worst first. */
const harmOf = (before: Truths, after: Truths): string[] =>
	hurtPlaces(before, after).map(({ place, was, now }) =>
		now.pct - was.pct > LEANER_POINTS && now.pct > LEAN_PCT
			? `${place}: ${was.pct.toFixed(1)} to ${now.pct.toFixed(1)} % lean`
			: `${place}: ${was.knock.toFixed(1)} to ${now.knock.toFixed(1)}° of knock`
	);

/** Mean distance of places from their targets, percent: of the banks, or of the cylinders that a sensor of their own saw. */
function distance(of: Truths, whose: 'bank' | 'cylinder' = 'bank'): number {
	const places = [...of].filter(([name]) => name.startsWith(whose));
	return places.reduce((s, [, p]) => s + Math.abs(p.pct), 0) / Math.max(1, places.length);
}

const rows: string[] = [];
const tally = new Map<string, { worlds: number; hurt: number; mended: number }>();
let [hurt, hurtAsked, mended, untouched, unknowable] = [0, 0, 0, 0, 0];
const free = { before: 0, after: 0, n: 0 };
const single = { before: 0, after: 0, n: 0 };
for (let seed = firstSeed; seed < firstSeed + worlds; seed++) {
	const w = worldOf(seed);
	// A lone sensor that lies can't be told from a right one.
	const lone =
		!(w.vehicle.sensors?.lambda ?? []).some((s) => s.kind === 'independent') || w.wrongs.some((x) => x.hides);
	if (w.wrongs.some((x) => x.lies) && lone) {
		unknowable++;
		continue;
	}
	const { taken, asked } = proposalsFor(w);
	const before = truthUnderLoad(w, w.canonicalBase);
	const after = truthWith(w, taken);
	const same = JSON.stringify(taken.changes) === JSON.stringify(asked.changes);
	const [harm, harmAsked] = [harmOf(before, after), harmOf(before, same ? after : truthWith(w, asked))];
	const nearer = distance(after) < distance(before) - MENDED_POINTS;
	if (harm.length) hurt++;
	else if (harmAsked.length) hurtAsked++;
	if (nearer) mended++;
	if (!taken.changes.length) untouched++;
	if (!taken.held.length) {
		free.before += distance(before);
		free.after += distance(after);
		free.n++;
	}
	if (w.faults.leanCylinder) {
		single.before += distance(before, 'cylinder');
		single.after += distance(after, 'cylinder');
		single.n++;
	}
	for (const { name } of w.wrongs) {
		const line = tally.get(name) ?? { worlds: 0, hurt: 0, mended: 0 };
		tally.set(name, {
			worlds: line.worlds + 1,
			hurt: line.hurt + (harm.length ? 1 : 0),
			mended: line.mended + (nearer ? 1 : 0)
		});
	}
	if (harm.length || harmAsked.length) {
		const some = (list: string[]) => list.slice(0, 3).join('; ') || '–';
		const line = `| ${seed} | ${w.vehicle.name}, ${w.model} | ${w.wrongs.map((x) => x.name).join('; ')} | ${some(harm)} | ${some(harmAsked)} |`;
		rows.push(line);
		console.log(line);
	}
}
const per = Math.max(1, free.n);
const each = Math.max(1, single.n);
const said = [
	`${hurt} of ${worlds - unknowable} worlds hurt, ${hurtAsked} more through cells that are asked about (${unknowable} more have a lone sensor that lies, which nobody can know)`,
	`${mended} mended by more than ${MENDED_POINTS} points, nothing changed in ${untouched}`,
	`over the ${free.n} without a hold the mean distance of the banks' loaded places from their targets fell from ${(free.before / per).toFixed(1)} to ${(free.after / per).toFixed(1)} % after one log`,
	`over the ${single.n} with a cylinder apart that of the cylinders' places fell from ${(single.before / each).toFixed(1)} to ${(single.after / each).toFixed(1)} %; half of the files have no trims by cylinder, which are only offered then`
];
console.log(said.join('\n'));
const kinds = WRONGS.flatMap(({ name }) => {
	const line = tally.get(name);
	return line ? [`| ${name} | ${line.worlds} | ${line.hurt} | ${line.mended} |`] : [];
});
writeFileSync(
	'docs/harm.md',
	`# Does the loop hurt an engine?

Made by \`npm run harm\`: ${worlds} random worlds of the stand-in vehicle from seed ${firstSeed} on, each with a base wrong by up to ${100 * BASE_WRONG} % and one or two things wrong with the car or its log. What is proposed
without a question is accepted after one log, and the truth of every bank, and of every cylinder where they differ, compared place by place (${PLACE_RPM} rpm × ${PLACE_KPA} kPa under load). Harm: leaner by over ${LEANER_POINTS} points and then over ${LEAN_PCT} % lean of its target, or over ${MORE_KNOCK_DEG}° more knock.

${said.map((s) => `- ${s}`).join('\n')}

| seed | engine | wrong | harm | with what is asked about |
|---|---|---|---|---|
${rows.join('\n') || '| – | – | – | – | – |'}

By what was wrong:

| what | worlds | hurt | mended |
|---|---|---|---|
${kinds.join('\n')}
`
);
process.exitCode = hurt ? 1 : 0;
