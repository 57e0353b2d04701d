/** What a check sees and what it answers. Checks don't know each other. */
import type { Calibration } from '../calibration/document.ts';
import type { CellAxes } from '../cells/grid.ts';
import type { JudgedEpisode } from '../knock/shape.ts';
import type { Believed } from '../lambda/believed.ts';
import type { Required, Target } from '../lambda/required.ts';
import type { SuspectedMisfire } from '../lambda/suspected-misfire.ts';
import type { Frame } from '../logfile/frame.ts';
import type { Log } from '../logfile/log.ts';
import type { LogRequest } from '../planning/request.ts';
import type { Segments } from '../segments/segments.ts';
import type { Vehicle } from '../vehicle.ts';
import type { Profile } from './profile.ts';
import type { Report } from './report.ts';

export type Severity = 'stop' | 'fix' | 'watch' | 'note';
export type Verdict = 'stop' | 'fix' | 'watch' | 'clear';
export const SEVERITIES: readonly Severity[] = ['stop', 'fix', 'watch', 'note'];

/** A finding as the report carries it. */
export type Finding = Report['findings'][number];

export type CheckResult =
	| { outcome: 'pass'; text: string }
	| { outcome: 'found'; findings: Finding[]; text?: string }
	/** `missing` names what would make the check possible: a channel, a vehicle fact, a kind of driving. */
	| { outcome: 'not-checked'; reason: string; missing: string };

export interface CheckInput {
	log: Log;
	frame: Frame;
	vehicle: Vehicle;
	/** All revisions of the job, oldest first. */
	calibrations: readonly Calibration[];
	/** The revision that the log is said to be made with. */
	calibration: Calibration | null;
	request: LogRequest | null;
	profile: Profile;
	segments: Segments;
	believed: Believed;
	target: Target;
	required: Required;
	/** Misfires that nobody counted; empty where counters are logged. */
	suspected: SuspectedMisfire;
	/** Axes of the fuel table, else a default grid. */
	axes: CellAxes;
	/** `null` when no knock channel is logged. */
	knock: readonly JudgedEpisode[] | null;
}

export function worst(severities: Iterable<Severity>): Severity | null {
	let best: Severity | null = null;
	for (const s of severities) if (best === null || SEVERITIES.indexOf(s) < SEVERITIES.indexOf(best)) best = s;
	return best;
}

/** Severity by limits: beyond `stop`, `fix` or `watch`; `null` when beyond none. */
export function graded(
	value: number,
	limits: { watch: number; fix: number; stop: number }
): { severity: Severity; limit: number } | null {
	if (value > limits.stop) return { severity: 'stop', limit: limits.stop };
	if (value > limits.fix) return { severity: 'fix', limit: limits.fix };
	if (value > limits.watch) return { severity: 'watch', limit: limits.watch };
	return null;
}
