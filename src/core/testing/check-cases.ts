/** A check on hand-made logs, case by case: the pull of `pullShapes`, with what a case plants in it, and what the check says of it. */
import { describe, expect, it } from 'vitest';
import { parseCalibration, type Calibration } from '../calibration/document.ts';
import type { Log } from '../logfile/log.ts';
import { plain } from '../format.ts';
import type { Report } from '../screening/report.ts';
import type { Finding, Wordless } from '../screening/types.ts';
import { wordsOf } from '../screening/words.ts';
import type { Vehicle } from '../vehicle/document.ts';
import {
	at,
	findingOf,
	handMade,
	inPull,
	outcomeOf,
	pullShapes,
	reportOf,
	vehicleWith,
	type Shape
} from './hand-made.ts';

/** A minute of warm idle after the pull. */
export const idling: Record<string, Shape> = {
	rpm: (t) => (t < 30 ? pullShapes()['rpm']!(t) : 850),
	map: (t) => (t < 30 ? pullShapes()['map']!(t) : 38),
	tps: (t) => (t < 30 ? pullShapes()['tps']!(t) : 0),
	speed: (t) => (t < 30 ? 60 : 0)
};

export interface Case {
	what: string;
	shapes: Record<string, Shape>;
	vehicle?: Vehicle;
	calibration?: object[];
	blends?: object[];
	seconds?: number;
	/** Severity, `pass` or `not-checked`. */
	is: string;
}

function calibrationOf(items: object[], blends: object[] = []): Calibration {
	return parseCalibration({
		schema: 'tanto.calibration/1',
		name: 'c',
		fuelModel: 'speed-density',
		items,
		blends
	});
}

function answer(code: string, c: Case): string {
	const shapes: Record<string, Shape> = { ...pullShapes(), ...c.shapes };
	for (const [id, shape] of Object.entries(shapes)) if (shape === GONE) delete shapes[id];
	const report = reportOf(
		handMade(c.seconds ?? 60, 20, shapes),
		c.vehicle ?? vehicleWith(),
		c.calibration ? [calibrationOf(c.calibration, c.blends)] : []
	);
	const line = outcomeOf(report, code);
	if (line.outcome !== 'found') return line.outcome;
	const finding = findingOf(report, code)!;
	expectWordsOfFacts(finding);
	return finding.severity;
}

/** A finding reads the same when its words are made anew from what a stored report keeps of it. */
export function expectWordsOfFacts(f: Finding): void {
	const { title, summary, said: _, causes, next, ...wordless } = f;
	const again = wordsOf(JSON.parse(JSON.stringify(wordless)) as Wordless);
	expect({
		title: plain(again.title),
		summary: plain(again.summary),
		causes: again.causes.map(plain),
		next: again.next.map(plain)
	}).toEqual({ title, summary, causes, next });
	expect(title + summary + causes.join() + next.join()).not.toMatch(/undefined|NaN|null|\[object/);
}

/** Takes a channel out. */
export const GONE: Shape = () => Number.NaN;

export const map = (id: string, x: number[], y: number[], value: number) => ({
	id,
	kind: 'map',
	x: { channel: 'rpm', unit: 'rpm', points: x },
	y: { channel: 'map', unit: 'kPa', points: y },
	values: y.map(() => x.map(() => value))
});

export const idle = (ect: number) => ({ ...idling, ect: at(ect) });
/** A mixture in the pull that moves a little, as measured ones do: one that stands still at its lowest is a sensor at its end. */
export const rippled =
	(inside: number): Shape =>
	(t) =>
		inPull(t) ? inside * (1 + 0.003 * Math.sin(t * 9)) : 1;

/** One test a case: severity of its finding, `pass` or `not-checked`. */
export function checkCases(code: string, cases: readonly Case[]): void {
	describe(code, () => {
		it.each(cases)('$what: $is', (c) => expect(answer(code, c)).toBe(c.is));
	});
}

/** The pull of `pullShapes` with what a test plants in it, and what is said of such a log. */
export const drive = (more: Record<string, Shape> = {}, seconds = 40, rate = 20): Log =>
	handMade(seconds, rate, { ...pullShapes(), ...more });
export const reportOn = (log: Log, vehicle = vehicleWith()): Report => reportOf(log, vehicle);
