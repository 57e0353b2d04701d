/** Screens a log: prepares what the checks share, runs them, gathers the report. */
import { findMap, type Calibration } from '../calibration/document.ts';
import { defaultAxes, type CellAxes } from '../cells/grid.ts';
import { episodesOf, retardOf } from '../knock/episodes.ts';
import { monitorShare } from '../knock/monitor.ts';
import { judge, type JudgedEpisode } from '../knock/shape.ts';
import { believedLambda } from '../lambda/believed.ts';
import { axisChannel } from '../calibration/along.ts';
import { lambdaTarget, requiredCorrection } from '../lambda/required.ts';
import { markSuspected, suspectedMisfire } from '../lambda/suspected-misfire.ts';
import { Frame } from '../logfile/frame.ts';
import type { Log } from '../logfile/log.ts';
import type { LogRequest } from '../planning/request.ts';
import { segmentsOf } from '../segments/segments.ts';
import type { Vehicle } from '../vehicle.ts';
import { settleCauses } from './causes.ts';
import { CHECKS, CODES } from './codes.ts';
import { round } from './evidence.ts';
import { profileOf, type Profile } from './profile.ts';
import { findingKey, type Report } from './report.ts';

import { SEVERITIES, worst, type CheckInput, type Finding, type Verdict } from './types.ts';

/** Stands in every stored run; raised whenever a check may answer differently. */
export const CHECKS_VERSION = 5;

export interface ScreenContext {
	vehicle: Vehicle;
	/** Revisions of the job, oldest first. */
	calibrations?: readonly Calibration[];
	/** Index of the one that the log is said to be made with; the last when missing. */
	stated?: number;
	request?: LogRequest | null;
}

/** Overlap from which monitor and controller tell of the same knock. */
const MONITOR_AGREES = 0.1;

/** Everything that checks, cell maps and proposals compute with, made once per log. */
export function prepare(log: Log, context: ScreenContext): CheckInput {
	const { vehicle, calibrations = [], request = null } = context;
	const calibration = calibrations[context.stated ?? calibrations.length - 1] ?? null;
	const profile = profileOf(vehicle.limits);
	const frame = new Frame(log);
	const segments = segmentsOf(frame, vehicle, profile);
	const target = lambdaTarget(frame, calibration, segments.baroKpa);
	const believed = believedLambda(frame, segments, vehicle, profile, target.values);
	const suspected = suspectedMisfire(frame, segments, believed, target.values);
	markSuspected(suspected, segments, believed);
	const required = requiredCorrection(frame, segments, believed, target, vehicle);
	const retard = retardOf(frame);
	const judged = retard
		? judge(episodesOf(frame, retard, segments, profile), retard, frame.timeS, segments.pulls)
		: null;
	const knock = judged && confirmed(judged, frame, profile);
	return {
		log,
		frame,
		vehicle,
		calibrations,
		calibration,
		request,
		profile,
		segments,
		believed,
		target,
		required,
		suspected,
		axes: axesOf(frame, calibration, vehicle, segments.baroKpa),
		knock
	};
}

/** What the independent monitor hears as well is real, whatever its shape. */
function confirmed(episodes: JudgedEpisode[], frame: Frame, profile: Profile): JudgedEpisode[] {
	const monitor = frame.get('knockMonitor');
	if (!monitor) return episodes;
	return episodes.map((e) =>
		e.shape !== 'real' && monitorShare([e], monitor, frame, profile.monitorLevel) >= MONITOR_AGREES
			? { ...e, shape: 'real' }
			: e
	);
}

/** Axes of the fuel table when the log has their channels, else cells of 500 rpm by 20 kPa. */
function axesOf(frame: Frame, calibration: Calibration | null, vehicle: Vehicle, baroKpa: number): CellAxes {
	const table = calibration && findMap(calibration, 'fuel.table');
	if (table && axisChannel(frame, table.x.channel, baroKpa) && axisChannel(frame, table.y.channel, baroKpa))
		return {
			xChannel: table.x.channel,
			x: table.x.points,
			yChannel: table.y.channel,
			y: table.y.points
		};
	return defaultAxes(vehicle.engine.revLimitRpm, Math.max(baroKpa, frame.bounds('map')?.max || 0));
}

export function screenPrepared(input: CheckInput): Report {
	const raised: Finding[] = [];
	const checks = CHECKS.map((check): Report['checks'][number] => {
		const { code } = check;
		const result = check.run(input);
		if (result.outcome === 'found') {
			raised.push(...result.findings);
			return { code, outcome: 'found', ...(result.text ? { reason: result.text } : {}) };
		}
		return result.outcome === 'pass'
			? { code, outcome: 'pass', reason: result.text }
			: { code, outcome: 'not-checked', reason: result.reason, missing: result.missing };
	});
	const findings = settleCauses(oneOfAKind(raised), input.profile);
	const top = worst(findings.map((f) => f.severity));
	const verdict: Verdict = top === null || top === 'note' ? 'clear' : top;
	const order = new Map<string, number>(CODES.map((c, i) => [c, i]));
	findings.sort(
		(a, b) =>
			SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity) ||
			order.get(a.code)! - order.get(b.code)!
	);
	const { log } = input;
	return {
		schema: 'tanto.screen/1',
		log: {
			rows: log.rows,
			durationS: round(log.durationS, 3),
			channels: log.channels.map((c) => ({
				id: c.id,
				raw: c.raw,
				unit: c.unit,
				rateHz: c.rateHz,
				...(c.note ? { note: c.note } : {})
			})),
			unmapped: log.unmapped.filter((u) => !u.private).map((u) => u.raw),
			notes: log.notes
		},
		verdict,
		findings,
		checks,
		segments: input.segments.list.map((s) => ({
			kind: s.kind,
			from: round(s.fromS, 3),
			to: round(s.toS, 3),
			...(s.gear ? { gear: s.gear } : {})
		}))
	};
}

/**
 * Gives each finding its id, and its value and limit as facts. Two of one check about one subject get kinds of their own: answers and
 * holds hang on the id.
 */
function oneOfAKind(findings: readonly Finding[]): Finding[] {
	const seen = new Map<string, number>();
	return findings.map((raised) => {
		const key = findingKey(raised);
		const n = (seen.get(key) ?? 0) + 1;
		seen.set(key, n);
		const f = n === 1 ? raised : { ...raised, kind: `${raised.kind ?? ''}${n}` };
		const unit = f.unit === undefined ? {} : { unit: f.unit };
		return {
			...f,
			id: findingKey(f),
			facts: {
				...(f.value === undefined ? {} : { value: { value: f.value, ...unit } }),
				...(f.limit === undefined ? {} : { limit: { value: f.limit, ...unit } }),
				...f.facts
			}
		};
	});
}

export function screen(log: Log, context: ScreenContext): Report {
	return screenPrepared(prepare(log, context));
}
