/**
 * `npm run harm [-- WORLDS [FIRST_SEED]]`: does the loop hurt an engine? Random worlds of the stand-in: a vehicle, a base that is wrong by up
 * to 12 %, one or two hidden faults. A log is screened, what is proposed without a question is accepted, the same drive is driven again with
 * it, and the hidden truth of every bank is compared place by place. *Harm*: leaner by more than 1.5 points and then more than 3 % lean of its
 * target, or more real knock. Harm through cells that are asked about is counted apart. Writes `docs/harm.md`.
 */
import { writeFileSync } from 'node:fs';
import { parseCalibration, type Calibration, type FuelModel } from '../src/core/calibration/document.ts';
import { DEFAULT_STRATEGY } from '../src/core/correction/strategy.ts';
import { prepare } from '../src/core/evidence/prepare.ts';
import { readLog } from '../src/core/logfile/read.ts';
import { propose, withChanges } from '../src/core/revising/revise.ts';
import { screenPrepared } from '../src/core/screening/screen.ts';
import { baseCalibration } from '../src/core/simulator/base-calibration.ts';
import { standardDrive } from '../src/core/simulator/drive.ts';
import type { Faults } from '../src/core/simulator/faults.ts';
import { logText } from '../src/core/simulator/log-text.ts';
import { simulate, type SimLog } from '../src/core/simulator/simulate.ts';
import { Rng } from '../src/core/stats/rng.ts';
import { bankCount, gaugeStoich, readContextOf, type Vehicle } from '../src/core/vehicle/document.ts';
import { VEHICLES } from './demo/vehicles.ts';

const worlds = Number(process.argv[2] ?? 500);
const firstSeed = Number(process.argv[3] ?? 1);
const LEANER_POINTS = 1.5;
const LEAN_PCT = 3;
const MORE_KNOCK_DEG = 1;
const PLACE_RPM = 500;
const PLACE_KPA = 20;
const LEAST_SAMPLES = 6;
const BASE_WRONG = 0.12;

/** What is wrong in the car, and what is wrong with the log of it. */
interface Wrong {
	name: string;
	faults?: (rng: Rng, v: Vehicle) => Faults;
	/** Changes what was logged, never what is true. */
	log?: (log: SimLog, rng: Rng, v: Vehicle) => void;
	/** The car runs another file than the one that is stated. */
	otherFile?: true;
	/** What it says of the mixture is wrong: nobody can know where it is the only witness. */
	lies?: true;
	/** Only where it makes sense. */
	fits?: (v: Vehicle) => boolean;
}
const two = (v: Vehicle) => bankCount(v) === 2;
const each = (log: SimLog, id: string, of: (v: number, i: number) => number) => {
	const list = log.channels.get(id);
	if (list) log.channels.set(id, list.map(of));
};
const WRONGS: Wrong[] = [
	{ name: 'nothing' },
	{ name: 'a bank lean', faults: (r) => ({ bankFlow: [0.9 + 0.08 * r.next(), 1] }), fits: two },
	{ name: 'a bank rich', faults: (r) => ({ bankFlow: [1, 1.02 + 0.08 * r.next()] }), fits: two },
	{ name: 'poor fuel', faults: (r) => ({ octaneRon: 90 + 5 * r.next() }) },
	{ name: 'false knock', faults: (r) => ({ falseKnockPerS: 1 + 3 * r.next() }) },
	{ name: 'fuel pressure sags', faults: (r) => ({ pressureSagKpa: 20 + 60 * r.next() }) },
	{ name: 'boost leak', faults: (r) => ({ boostLeak: 0.2 + 0.4 * r.next() }) },
	{ name: 'overboost', faults: (r) => ({ overboost: 0.1 + 0.2 * r.next() }) },
	{ name: 'low voltage', faults: (r) => ({ supplyV: 11.5 + r.next() }) },
	{
		name: 'own sensors drift rich under boost',
		lies: true,
		faults: (r) => ({ factoryDriftRich: 0.04 + 0.08 * r.next() })
	},
	{
		name: 'a sensor of a bank reads rich',
		lies: true,
		faults: (r) => ({ bankSensor: [1 - 0.03 - 0.07 * r.next(), 1] })
	},
	{
		name: 'bank 2 is not seen, and leaner',
		faults: (r) => ({ bankFlow: [1.02, 0.92 + 0.05 * r.next()] }),
		log: (log) =>
			['lambda.b2', 'stft.b2', 'ltft.b2', 'pw.b2', 'lambda.ref'].forEach((id) => log.channels.delete(id)),
		fits: two
	},
	{
		name: 'trims are not logged',
		log: (log) => ['stft.b1', 'stft.b2', 'ltft.b1', 'ltft.b2'].forEach((id) => log.channels.delete(id))
	},
	{
		name: 'the own sensor drifts by engine speed',
		lies: true,
		log: (log) => {
			const rpm = log.channels.get('rpm')!;
			for (const id of ['lambda.b1', 'lambda.b2'])
				each(log, id, (v, i) => v * (1 - 0.1 * Math.max(0, Math.min(1, (rpm[i]! - 3500) / 2500))));
		}
	},
	{
		name: 'an untold lag of 0.2 s',
		log: (log) => {
			for (const id of ['lambda.b1', 'lambda.b2', 'lambda.ref']) {
				const list = log.channels.get(id);
				if (list)
					log.channels.set(
						id,
						list.map((_, i) => list[Math.max(0, i - 4)]!)
					);
			}
		}
	},
	{ name: 'another file in the car', otherFile: true },
	{
		name: 'the pressure sensor reads 4 % low',
		log: (log) => each(log, 'map', (v) => Number((v * 0.96).toFixed(1)))
	},
	{
		name: 'no independent instrument',
		log: (log) => void log.channels.delete('lambda.ref')
	}
];
const MODELS: FuelModel[] = ['speed-density', 'pulse-width', 'maf'];

interface World {
	seed: number;
	vehicle: Vehicle;
	model: FuelModel;
	wrongs: Wrong[];
	base: Calibration;
	/** In the car. */
	driven: Calibration;
	faults: Faults;
}

/** The controller's own sensors, and an instrument beside them or not. */
function seen(v: Vehicle, instrument: boolean): Vehicle {
	const banks = bankCount(v);
	const own = Array.from({ length: banks }, (_, b) => ({
		channel: `lambda.b${b + 1}`,
		kind: 'factory' as const,
		site: `bank${b + 1}`,
		pressureCompensated: true
	}));
	const reference = {
		channel: 'lambda.ref',
		kind: 'independent' as const,
		site: banks === 2 ? 'collector' : 'bank1'
	};
	return { ...v, sensors: { ...v.sensors, lambda: instrument ? [...own, reference] : own } };
}
const WITH_INSTRUMENT = 0.6;

function worldOf(seed: number): World {
	const rng = new Rng(seed * 7919 + 13);
	const pick = <T>(list: readonly T[]): T => list[Math.floor(rng.next() * list.length)]!;
	const vehicle = seen(pick(Object.values(VEHICLES)), rng.next() < WITH_INSTRUMENT);
	const model = pick(MODELS);
	const fitting = WRONGS.filter((w) => !w.fits || w.fits(vehicle));
	const wrongs = [pick(fitting)];
	if (rng.next() < 0.4) {
		const more = pick(fitting);
		if (more !== wrongs[0]) wrongs.push(more);
	}
	const [a, b, c] = [rng.next(), rng.next(), rng.next()];
	const fuelError = (rpm: number, load: number) =>
		BASE_WRONG * Math.sin(6.28 * a + (1 + 2 * b) * rpm + (1 + 2 * c) * load);
	const made = (name: string, error: (r: number, l: number) => number, marginDeg: number) =>
		parseCalibration(
			baseCalibration({ vehicle, fuelModel: model, name, fuelError: error, timingMarginDeg: marginDeg })
		);
	const base = made('base', fuelError, 3);
	const driven = wrongs.some((w) => w.otherFile) ? made('other', (r, l) => fuelError(r, l) + 0.08, 0) : base;
	const faults = Object.assign({}, ...wrongs.map((w) => w.faults?.(rng, vehicle) ?? {})) as Faults;
	return { seed, vehicle, model, wrongs, base, driven, faults };
}

const driveOf = (v: Vehicle) => standardDrive(v.transmission?.gears?.length ?? 5, v.engine.revLimitRpm);

/** Mean lambda over target and highest knock by bank and place while loaded, as they truly are. */
function truthOf(
	{ vehicle, faults, seed }: World,
	calibration: Calibration
): Map<string, { pct: number; knock: number }> {
	const { bankSensor: _, factoryDriftRich: __, falseKnockPerS: ___, ...real } = faults;
	const log = simulate({
		vehicle,
		calibration,
		drive: driveOf(vehicle),
		faults: real,
		seed: seed + 5000,
		rateHz: 20
	});
	const at = (id: string) => log.channels.get(id);
	const [rpm, map, pedal, goal, retard] = ['rpm', 'map', 'pedal', 'lambda.target', 'knockRetard'].map((id) =>
		at(id)!
	);
	const sums = new Map<string, { sum: number; n: number; knock: number }>();
	for (let i = 8; i < log.timeS.length; i++) {
		// Settled full load: what a sensor shows a fifth of a second later is what burnt.
		if (!(pedal![i]! > 90) || !(pedal![i - 8]! > 90) || !(rpm![i]! > 1500)) continue;
		for (let b = 1; b <= bankCount(vehicle); b++) {
			const lambda = at(`lambda.b${b}`)?.[Math.min(log.timeS.length - 1, i + 3)];
			if (lambda === undefined) continue;
			const key = `bank ${b}, ${Math.floor(rpm![i]! / PLACE_RPM) * PLACE_RPM} rpm, ${Math.floor(map![i]! / PLACE_KPA) * PLACE_KPA} kPa`;
			const place = sums.get(key) ?? { sum: 0, n: 0, knock: 0 };
			place.sum += lambda / goal![i]! - 1;
			place.n++;
			place.knock = Math.max(place.knock, retard![i]!);
			sums.set(key, place);
		}
	}
	return new Map(
		[...sums].flatMap(([key, p]) =>
			p.n >= LEAST_SAMPLES ? [[key, { pct: (100 * p.sum) / p.n, knock: p.knock }] as const] : []
		)
	);
}

interface Outcome {
	harm: string[];
	/** Mean distance of the loaded places from their targets, percent, before and after. */
	before: number;
	after: number;
	changed: boolean;
	held: boolean;
}

function outcomeOf(w: World, asked: boolean): Outcome {
	const rng = new Rng(w.seed + 99);
	const log = simulate({
		vehicle: w.vehicle,
		calibration: w.driven,
		drive: driveOf(w.vehicle),
		faults: w.faults,
		seed: w.seed,
		rateHz: 20
	});
	for (const wrong of w.wrongs) wrong.log?.(log, rng, w.vehicle);
	const text = logText(log, { gaugeStoich: gaugeStoich(w.vehicle) });
	const read = readLog([new TextEncoder().encode(text)], readContextOf(w.vehicle));
	const input = prepare(read, { vehicle: w.vehicle, calibrations: [w.base] });
	const evidence = [{ input, findings: screenPrepared(input).findings }];
	const proposal = propose(evidence, { ...DEFAULT_STRATEGY, cautious: !asked }, w.base);
	// What is in the car gets the changes: that is what happens to an engine whose file isn't the one that is stated.
	const next = withChanges(w.base, proposal.changes);
	const [before, after] = [truthOf(w, w.base), truthOf(w, next)];
	const harm = [...after].flatMap(([place, now]) => {
		const was = before.get(place);
		if (!was) return [];
		const leaner = now.pct - was.pct > LEANER_POINTS && now.pct > LEAN_PCT;
		const knocks = now.knock - was.knock > MORE_KNOCK_DEG;
		return leaner
			? [`${place}: ${was.pct.toFixed(1)} to ${now.pct.toFixed(1)} % lean`]
			: knocks
				? [`${place}: ${was.knock.toFixed(1)} to ${now.knock.toFixed(1)}° of knock`]
				: [];
	});
	const mean = (of: typeof before) =>
		[...of.values()].reduce((s, p) => s + Math.abs(p.pct), 0) / Math.max(1, of.size);
	return {
		harm,
		before: mean(before),
		after: mean(after),
		changed: proposal.changes.length > 0,
		held: proposal.held.length > 0
	};
}

const rows: string[] = [];
let [hurt, hurtAsked, mended, untouched, unknowable] = [0, 0, 0, 0, 0];
const free = { before: 0, after: 0, n: 0 };
for (let seed = firstSeed; seed < firstSeed + worlds; seed++) {
	const w = worldOf(seed);
	// A lone sensor that lies can't be told from a right one.
	const lone = !(w.vehicle.sensors?.lambda ?? []).some((s) => s.kind === 'independent');
	const hidden = w.wrongs.some((x) => x.name.includes('not seen') || x.name.includes('no independent'));
	if (w.wrongs.some((x) => x.lies) && (lone || hidden)) {
		unknowable++;
		continue;
	}
	const taken = outcomeOf(w, false);
	const asked = outcomeOf(w, true);
	if (taken.harm.length) hurt++;
	if (asked.harm.length && !taken.harm.length) hurtAsked++;
	if (taken.after < taken.before - 0.3) mended++;
	if (!taken.changed) untouched++;
	if (!taken.held) {
		free.before += taken.before;
		free.after += taken.after;
		free.n++;
	}
	if (taken.harm.length || asked.harm.length) {
		const line = `| ${seed} | ${w.vehicle.name}, ${w.model} | ${w.wrongs.map((x) => x.name).join('; ')} | ${taken.harm.slice(0, 3).join('; ') || '–'} | ${asked.harm.slice(0, 3).join('; ') || '–'} |`;
		rows.push(line);
		console.log(line);
	}
}
const said = [
	`${hurt} of ${worlds - unknowable} worlds hurt, ${hurtAsked} more through cells that are asked about (${unknowable} more have a lone sensor that lies, which nobody can know)`,
	`${mended} mended by more than 0.3 points, nothing changed in ${untouched}`,
	`over the ${free.n} without a hold the mean distance of loaded places from their targets fell from ${(free.before / Math.max(1, free.n)).toFixed(1)} to ${(free.after / Math.max(1, free.n)).toFixed(1)} %`
];
console.log(said.join('\n'));
writeFileSync(
	'docs/harm.md',
	`# Does the loop hurt an engine?

Made by \`npm run harm\`: ${worlds} random worlds of the stand-in vehicle from seed ${firstSeed} on, each with a base wrong by up to ${100 * BASE_WRONG} % and one or two things wrong with the car or its log. What is proposed
without a question is accepted after one log, and the truth of every bank compared place by place (${PLACE_RPM} rpm × ${PLACE_KPA} kPa under load). Harm: leaner by over ${LEANER_POINTS} points and then over ${LEAN_PCT} % lean of its target, or over ${MORE_KNOCK_DEG}° more knock.

${said.map((s) => `- ${s}`).join('\n')}

| seed | engine | wrong | harm | with what is asked about |
|---|---|---|---|---|
${rows.join('\n') || '| – | – | – | – | – |'}
`
);
process.exitCode = hurt ? 1 : 0;
