/** What the ladder is judged by: the revision in the car, its logs with what they say, the goal. */
import type { Calibration } from '../calibration/document.ts';
import type { Prepared } from '../evidence/prepared.ts';
import type { Goal } from '../fuelling/goal.ts';
import type { PlugAnswer } from '../plugs/judge.ts';
import type { Plugs } from '../plugs/document.ts';
import type { Report } from '../screening/report.ts';
import type { Vehicle } from '../vehicle/document.ts';

export interface ScreenedLog {
	input: Prepared;
	report: Report;
}

/** A revision that was in the car before, with logs made with it. */
export interface EarlierRung {
	calibration: Calibration;
	/** The newest last. */
	logs: readonly ScreenedLog[];
}

export interface LadderCase {
	calibration: Calibration;
	/** The same as logs have it, where it was turned for one day's air. */
	inCar?: Calibration;
	/** Made with it, the newest last. */
	logs: readonly ScreenedLog[];
	/** The rungs before it, the oldest first; what they saw binds this one. */
	earlier?: readonly EarlierRung[];
	vehicle: Vehicle;
	goal: Goal;
	/** A moved sensor saw the bank that has none, and found it like the other: in words, how far. */
	banksSeen?: string | null;
	/** Plugs of this rung, with what they ask for. */
	plugs?: { document: Plugs; answer: PlugAnswer } | null;
}

export interface Gate {
	id: GateId;
	open: boolean;
	/** It was looked at. What a job can't or needn't look at stands open all the same, and says so. */
	checked: boolean;
	/** Why it is closed and what opens it; open, what was seen. */
	why: string;
	/** The same with its quantities marked, for a reader's units. */
	said?: string;
}

export const GATE_IDS = [
	'revision',
	'verdict',
	'banks',
	'sensors',
	'fuel',
	'knock',
	'delivered',
	'duty',
	'axes',
	'limitBoost',
	'overshoot',
	'intake',
	'exhaust',
	'supply',
	'baseTiming',
	'plugs',
	'misfire'
] as const;
export type GateId = (typeof GATE_IDS)[number];
