/** What a practised hand does with the same car: Tanto's own findings and proposals, in due order. */
import { canonical } from '../calibration/canonical.ts';
import { prepare } from '../evidence/prepare.ts';
import { readLog } from '../logfile/read.ts';
import { propose } from '../revising/revise.ts';
import { withChanges } from '../revising/changes.ts';
import type { Report } from '../screening/report.ts';
import { screenPrepared } from '../screening/screen.ts';
import { readContextOf } from '../vehicle/facts.ts';
import { hurtPlaces } from '../simulator/truth-under-load.ts';
import { logOf, standingOf, truthOf, type CarState } from './car.ts';
import type { CureId } from './cures.ts';
import type { Scene } from './levels.ts';
import { subjectsIn, type SubjectId } from './subjects.ts';

/** More logs than this nobody asks a customer for. */
const MOST_ROUNDS = 7;

export interface Hand {
	won: boolean;
	logs: number;
	revisions: number;
	cures: CureId[];
	/** Places that were hurt on the way. */
	harm: string[];
	/** Of what was planted, how much the first log's findings named. */
	seen: number;
	planted: number;
}

/** What is asked for where a finding says that it is no matter of the file. */
const ASKS: Partial<Record<SubjectId, CureId>> = {
	file: 'file-flashed',
	dead: 'coil-replaced',
	bank: 'injectors-flowed',
	cylinder: 'injectors-flowed',
	sensor: 'sensor-replaced',
	supply: 'pump-replaced',
	noise: 'rattle-fixed',
	boost: 'leak-closed',
	voltage: 'alternator-fixed'
};

/** The first thing to ask for, in the order in which a log is read; `null` where it is a matter of the file. */
function askFor(report: Report, done: readonly CureId[]): CureId | null {
	const there = subjectsIn(report.findings);
	for (const [subject, cure] of Object.entries(ASKS))
		if (there.includes(subject as SubjectId) && !done.includes(cure)) return cure;
	return null;
}

function read(car: CarState, round: number) {
	const { vehicle } = car.scene;
	const log = readLog([new TextEncoder().encode(logOf(car, round))], readContextOf(vehicle));
	const input = prepare(log, { vehicle, calibrations: [car.calibration] });
	return { input, report: screenPrepared(input) };
}

export function practisedHand(scene: Scene, seed: number): Hand {
	let car: CarState = { scene, seed, cures: [], calibration: scene.base, released: false };
	// The truth takes a drive of its own: each state of the car is driven once for it.
	let truths = truthOf(car);
	const hand: Hand = {
		won: false,
		logs: 0,
		revisions: 0,
		cures: [],
		harm: [],
		seen: 0,
		planted: scene.truth.length
	};
	for (let round = 1; round <= MOST_ROUNDS; round++) {
		const { input, report } = read(car, round);
		hand.logs++;
		if (round === 1) {
			const there = subjectsIn(report.findings);
			hand.seen = scene.truth.filter((t) => there.includes(t.subject)).length;
		}
		const cure = askFor(report, car.cures);
		let next: CarState;
		if (cure) next = { ...car, cures: [...car.cures, cure] };
		else {
			const { changes } = propose([{ input, findings: report.findings }], undefined, car.calibration);
			const sure = changes.flatMap((c) => {
				const cells = c.cells.filter((cell) => !cell.ask);
				return cells.length ? [{ ...c, cells }] : [];
			});
			if (sure.length === 0) break;
			next = { ...car, calibration: canonical(withChanges(car.calibration, sure)), released: true };
			hand.revisions++;
		}
		const then = truthOf(next);
		// A repair changes what the table meets: only what a file does is a hand's doing.
		if (!cure) hand.harm.push(...hurtPlaces(truths, then).map((h) => h.place));
		[car, truths] = [next, then];
		hand.won = standingOf(car, truths).left.length === 0;
		if (hand.won) break;
	}
	return { ...hand, cures: [...car.cures] };
}
