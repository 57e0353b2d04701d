/**
 * `log.revision`: was the revision that the log is said to be made with really in the car? By the logged calibration id, else by
 * replaying the timing and target tables of every revision along the log.
 */
import { FLAG, UNUSABLE } from '../../evidence/segments/kinds.ts';
import type { LimitName } from '../../limits/profile.ts';
import type { Calibration } from '../../calibration/document.ts';
import { along } from '../../calibration/along.ts';
import type { Columns } from '../../logfile/frame.ts';
import { slope } from '../../stats/runs.ts';
import { missesOf } from '../revision-misses.ts';
import { ENOUGH, everySo, finding, found, notChecked, pass, samplesWhere } from '../measure.ts';
import { round } from '../ranges.ts';
import { check, type Told } from '../check.ts';
import type { CheckResult } from '../types.ts';
import { fixed, list, uncapital } from '../../format.ts';

interface Table {
	id: string;
	channel: string;
	unit: string;
	/** Least difference of the deviations that tells revisions apart. */
	margin: LimitName;
	/** Root mean square beyond which a revision doesn't explain the log. */
	explains: LimitName;
	decimals: number;
}

const TABLES: readonly Table[] = [
	{
		id: 'spark.table',
		channel: 'sparkBase',
		unit: '°',
		margin: 'revisionTimingDeg',
		explains: 'revisionTimingFarDeg',
		decimals: 2
	},
	{
		id: 'lambda.target',
		channel: 'lambda.target',
		unit: 'λ',
		margin: 'revisionTargetLambda',
		explains: 'revisionTargetFarLambda',
		decimals: 3
	}
];
const RATIO = 2;
const MIN_SAMPLES = 60;
const STEADY_RPM_PER_S = 1500;

/** Root mean square of logged − table over steady samples; NaN when the two can't be compared. */
function deviation(steady: Columns, calibration: Calibration, table: Table, baroKpa: number): number {
	const logged = steady.get(table.channel);
	const expected = logged && along(steady, calibration, table.id, baroKpa);
	if (!logged || !expected) return Number.NaN;
	let sum = 0;
	let n = 0;
	for (let i = 0; i < logged.length; i++) {
		const d = logged[i]! - expected[i]!;
		if (d !== d) continue;
		sum += d * d;
		n++;
	}
	return n >= MIN_SAMPLES ? Math.sqrt(sum / n) : Number.NaN;
}

/** Root mean square of a logged column against a revision's table; `decimals` as its unit is written. */
const off = (rms: number, unit: string): string =>
	`${fixed(rms, TABLES.find((t) => t.unit === unit)!.decimals)} ${unit}`;

type Facts = {
	/** The revision that the log is said to be made with, and the one that was in the car, where it is known. */
	stated: number;
	real?: number;
	/** What the log names its calibration. */
	named?: string;
	/** The column that tells, and how far each of the two is off it. */
	by?: string;
	unit?: string;
	statedOff?: number;
	realOff?: number;
	/** None of so many revisions explains these columns. */
	unexplained?: string[];
	revisions?: number;
	/** Time in the places that it misses, where it is right elsewhere. */
	placeS?: number;
};

export const logRevision = check({
	code: 'log.revision',
	title: 'Revision in the car',
	section: 'fit',
	doubts: ['revision'],
	advice: 'log',
	plain: (f) =>
		`This may not be the file that your tuner sent: ${uncapital(f.title)}. Check which file is in the car.`,
	units: {
		stated: 'revision',
		real: 'revision',
		statedOff: '',
		realOff: '',
		revisions: 'revisions',
		placeS: 's'
	},
	run(input): CheckResult<Facts> {
		const { calibrations, calibration, frame, segments, profile } = input;
		if (!calibration) return notChecked('no calibration was given', 'the calibration of the revision');
		const stated = calibrations.indexOf(calibration);
		const ids = input.log.channels.find((c) => c.id === 'calibrationId')?.texts.filter(Boolean) ?? [];
		const named =
			ids.length === 1 ? calibrations.findIndex((c, i) => c.name === ids[0] || `R${i}` === ids[0]) : -1;
		if (named === stated) return pass(`The log names its calibration: ${ids[0]}.`);
		if (named >= 0)
			return found(
				finding(input, {
					severity: 'stop',
					facts: { stated, real: named, named: ids[0]! },
					channels: ['calibrationId']
				})
			);
		const rpm = frame.get('rpm');
		if (!rpm) return notChecked('engine speed is not logged', 'rpm');
		const dRpm = slope(rpm, frame.timeS, 0.1);
		const steady = samplesWhere(
			frame.length,
			(i) =>
				!(segments.flags[i]! & (UNUSABLE | FLAG.idle | FLAG.limited)) && Math.abs(dRpm[i]!) < STEADY_RPM_PER_S
		);
		const columns = frame.at(everySo(steady, ENOUGH));
		const seen = TABLES.map((table) => ({
			table,
			rms: calibrations.map((c) => deviation(columns, c, table, segments.baroKpa))
		})).filter(({ rms }) => Number.isFinite(rms[stated]!));
		if (seen.length === 0)
			return notChecked(
				'neither base timing nor lambda target is logged where the revision has a table for it',
				'sparkBase'
			);
		for (const { table, rms } of seen) {
			const best = rms.reduce((b, r, i) => (r < rms[b]! || !Number.isFinite(rms[b]!) ? i : b), stated);
			if (
				best !== stated &&
				rms[stated]! >= RATIO * rms[best]! &&
				rms[stated]! - rms[best]! >= profile[table.margin]
			)
				return found({
					...finding(input, {
						severity: 'stop',
						facts: {
							stated,
							real: best,
							by: table.channel,
							unit: table.unit,
							statedOff: rms[stated]!,
							realOff: rms[best]!
						},
						limit: profile[table.margin],
						unit: table.unit,
						channels: [table.channel, 'rpm', 'map']
					}),
					value: round(rms[stated]!, 3)
				});
		}
		// One table in one place that the stated revision certainly misses isn't made up for by all the others.
		const missed = (c: Calibration) =>
			TABLES.flatMap((table) => {
				const misses = missesOf(input, c, table.id, table.channel, profile[table.explains]);
				return misses ? [{ table, misses }] : [];
			});
		const [first] = missed(calibration);
		if (first) {
			const { table, misses } = first;
			const fits = (i: number) => i !== stated && missed(calibrations[i]!).length === 0;
			const real = calibrations
				.map((_, i) => i)
				.find((i) => seen.some((s) => s.rms[i]! < s.rms[stated]!) && fits(i));
			return found({
				...finding(input, {
					severity: real === undefined ? 'fix' : 'stop',
					facts: {
						stated,
						...(real === undefined
							? { unexplained: [table.channel], revisions: calibrations.length }
							: { real, by: table.channel, realOff: seen.find((s) => s.table === table)?.rms[real] ?? 0 }),
						unit: table.unit,
						statedOff: Math.abs(misses.mean),
						placeS: misses.seconds
					},
					limit: profile[table.explains],
					unit: table.unit,
					channels: [table.channel, 'rpm', 'map'],
					runs: misses.runs()
				}),
				value: round(misses.mean, 3)
			});
		}
		const unexplained = seen.filter(({ table, rms }) =>
			rms.every((r) => !Number.isFinite(r) || r > profile[table.explains])
		);
		if (unexplained.length === seen.length) {
			const { table, rms } = unexplained[0]!;
			return found({
				...finding(input, {
					severity: 'fix',
					facts: {
						stated,
						unit: table.unit,
						statedOff: rms[stated]!,
						unexplained: unexplained.map((u) => u.table.channel),
						revisions: calibrations.length
					},
					limit: profile[table.explains],
					unit: table.unit,
					channels: unexplained.map((u) => u.table.channel)
				}),
				value: round(rms[stated]!, 3)
			});
		}
		const others = calibrations.map((_, i) => i).filter((i) => i !== stated);
		const apart = others.filter((i) =>
			seen.some(
				({ table, rms }) => rms[i]! >= RATIO * rms[stated]! && rms[i]! - rms[stated]! >= profile[table.margin]
			)
		);
		const fit = seen.map(
			({ table, rms }) => `${table.channel} within ${fixed(rms[stated]!, table.decimals)} ${table.unit}`
		);
		if (others.length && apart.length === 0)
			return notChecked(
				`the revisions are indistinguishable where this log drove (R${stated} fits: ${list(fit)})`,
				'a logged calibration id'
			);
		return pass(`R${stated} explains the log: ${list(fit)}.`);
	},
	words: ({ facts }: Told<Facts>) => {
		const { stated, real, named, by, unit = '', statedOff, realOff, unexplained, revisions, placeS } = facts;
		const where = placeS === undefined ? '' : `, for ${fixed(placeS, 0)} s where it was driven so`;
		if (unexplained)
			return {
				title: 'No revision of this job explains the log',
				summary: `The logged ${list(unexplained)} fits none of the ${revisions} revisions; R${stated} is off by ${off(statedOff!, unit)}${where}.`,
				causes: [
					'a file in the car that is not of this job',
					'the controller corrects these values by something that is not in the tables',
					'the channel is not the base value'
				],
				next: ['ask what was flashed last', 'read the calibration out of the car']
			};
		const why =
			named === undefined
				? `the logged ${by === 'sparkBase' ? 'timing' : 'target'} is off R${stated} by ${off(statedOff!, unit)}, off R${real} by ${off(realOff!, unit)}`
				: `the log names "${named}"`;
		return {
			title: `Wrong revision in the car: R${real}`,
			summary: `The log is said to be made with R${stated}, but ${why}.`,
			causes: [
				'the new file was not flashed',
				'an older file was put back',
				'the wrong revision was chosen when the log came in'
			],
			next: [`have R${stated} put into the car and log again`, `or state that the log was made with R${real}`]
		};
	}
});
