/** A log made ready, once: what checks, cell maps, proposals and pages compute with. */
import type { TypedVote } from './lambda/typed-vote.ts';
import type { Calibration } from '../calibration/document.ts';
import type { CellAxes } from '../calibration/grid.ts';
import type { Profile } from '../limits/profile.ts';
import type { Frame } from '../logfile/frame.ts';
import type { Log } from '../logfile/log.ts';
import type { LogRequest } from '../request.ts';
import type { Vehicle } from '../vehicle/document.ts';
import type { JudgedEpisode } from './knock/shape.ts';
import type { Believed } from './lambda/believed.ts';
import type { Required, Target } from './lambda/required.ts';
import type { SuspectedMisfire } from './lambda/suspected-misfire.ts';
import type { Segments } from './segments/segments.ts';

export interface Prepared {
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
	/** What was said of the air outside, °C. */
	statedAmbientC: number | null;
	/** Mixtures that were typed beside the log, each against what was logged there. */
	typed: readonly TypedVote[];
	/** Highest injector duty that a controller kept since it was cleared, percent, where it was typed. */
	keptDutyPct: number | null;
	/** The revision asks for a reset of the learned trims: its table holds what they held. */
	resetTrims: boolean;
}
