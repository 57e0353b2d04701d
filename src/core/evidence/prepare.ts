/** Makes a log ready: one time grid, segments, believed lambda, required correction, knock episodes, axes. */
import { axisChannel } from '../calibration/axes.ts';
import { canonical } from '../calibration/canonical.ts';
import type { Calibration } from '../calibration/document.ts';
import { findMap } from '../calibration/lookup.ts';
import { defaultAxes, type CellAxes } from '../calibration/grid.ts';
import { profileOf, type Profile } from '../limits/profile.ts';
import { Frame } from '../logfile/frame.ts';
import type { Log } from '../logfile/log.ts';
import type { LogRequest } from '../request.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { withControl } from './knock/control.ts';
import { episodesOf, retardOf } from './knock/episodes.ts';
import { monitorShare } from './knock/monitor.ts';
import type { FalseProof } from './knock/proof.ts';
import { withProofs } from './knock/proved.ts';
import { judge, type JudgedEpisode } from './knock/shape.ts';
import { believedLambda } from './lambda/believed.ts';
import { withTyped, type TypedMixture } from './lambda/typed-vote.ts';
import { lambdaTarget, requiredCorrection } from './lambda/required.ts';
import { markSuspected, suspectedMisfire } from './lambda/suspected-misfire.ts';
import type { Prepared } from './prepared.ts';
import { segmentsOf } from './segments/segments.ts';

export interface LogContext {
	/** As it was in this log: `vehicleOn` puts what was said of the day and of the sensors' seats into it. */
	vehicle: Vehicle;
	/** Revisions of the job, oldest first. */
	calibrations?: readonly Calibration[];
	/** Index of the one that the log is said to be made with; the last when missing. */
	stated?: number;
	request?: LogRequest | null;
	/** The air outside on that day, °C, where somebody said so. */
	ambientC?: number | null;
	/** Its revision asks for a reset of the learned trims. */
	resetTrims?: boolean;
	/** Mixtures that were typed beside this log, off a film or a sheet. */
	typed?: readonly TypedMixture[];
	/** Highest injector duty since the controller's memory was cleared, where it was typed. */
	keptDutyPct?: number | null;
	/** Where knock was proved false in this job. */
	falseProofs?: readonly FalseProof[];
}

/** Overlap from which monitor and controller tell of the same knock. */
const MONITOR_AGREES = 0.1;

/** Everything that checks, cell maps and proposals compute with, made once per log. */
export function prepare(log: Log, context: LogContext): Prepared {
	const { vehicle, request = null } = context;
	// From here on every value of a calibration is in canonical units.
	const calibrations = (context.calibrations ?? []).map(canonical);
	const calibration = calibrations[context.stated ?? calibrations.length - 1] ?? null;
	const profile = profileOf(vehicle.limits);
	const frame = new Frame(log);
	const segments = segmentsOf(frame, vehicle, profile);
	const target = lambdaTarget(frame, calibration, segments.baroKpa);
	const { believed, votes } = withTyped(
		believedLambda(frame, segments, vehicle, profile, target.values),
		frame,
		segments,
		context.typed ?? []
	);
	const suspected = suspectedMisfire(frame, segments, believed, target.values, vehicle);
	markSuspected(suspected, segments, believed);
	const required = requiredCorrection(frame, segments, believed, target, vehicle);
	const retard = retardOf(frame);
	const judged = retard
		? judge(episodesOf(frame, retard, segments, profile), retard, frame.timeS, segments.pulls)
		: null;
	const knock = judged && withControl(confirmed(judged, frame, profile), frame, segments);
	const input: Prepared = {
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
		knock,
		statedAmbientC: context.ambientC ?? null,
		typed: votes,
		keptDutyPct: context.keptDutyPct ?? null,
		resetTrims: context.resetTrims ?? false
	};
	return { ...input, knock: withProofs(input, context.falseProofs ?? []) };
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
	if (table && axisChannel(frame, table.x, baroKpa) && axisChannel(frame, table.y, baroKpa))
		return {
			xChannel: table.x.channel,
			xUnit: table.x.unit,
			x: table.x.points,
			yChannel: table.y.channel,
			yUnit: table.y.unit,
			y: table.y.points
		};
	return defaultAxes(vehicle.engine.revLimitRpm, Math.max(baroKpa, frame.bounds('map')?.max || 0));
}
