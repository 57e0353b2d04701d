/** A log in figures, to be set beside another one: extremes and medians of its channels, its pulls by 500 rpm, shifts, power, slips. */
import { dutyFromPulse } from '../evidence/duty.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { CHANNELS } from '../channels/canonical.ts';
import { boundsOf } from '../logfile/log.ts';
import { ambientOf } from '../evidence/ambient.ts';
import { pullSources } from '../evidence/segments/pull-curves.ts';
import { rpmBins } from '../evidence/segments/rpm-bins.ts';
import { median, thinned } from '../stats/stats.ts';
import { densityAltitudeFt, standardAirFactor } from './air.ts';
import { airDensity, pullPower, type RoadPower } from './road-power.ts';
import { timeslips, type Timeslip } from './timeslip.ts';

export interface ChannelSummary {
	id: string;
	unit: string;
	min: number;
	median: number;
	max: number;
}

export interface PullSummaryByRpm {
	fromS: number;
	gear: number;
	/** Lower ends of the 500 rpm bins. */
	rpm: number[];
	/** Means per bin by name; knock is the highest; null where nothing was recorded. */
	values: Record<string, (number | null)[]>;
	power: RoadPower | null;
	/** Why there is no power. */
	noPower: string;
}

export interface LogSummary {
	channels: ChannelSummary[];
	pulls: PullSummaryByRpm[];
	/** Engine speed at each upshift under full throttle, by the gear it left. */
	shifts: { gear: number; rpm: number }[];
	slips: Timeslip[];
	/** The day's air, as far as the log tells: °C, kPa, density altitude in feet, SAE J1349 factor (null where boost is held absolutely). */
	air: { ambientC: number; baroKpa: number; densityAltitudeFt: number; saeFactor: number | null } | null;
}

const BIN_RPM = 500;
const MEDIAN_OF = 20_000;

export function logSummary(input: Prepared): LogSummary {
	const { frame, log, segments, vehicle } = input;
	const rpm = frame.get('rpm');
	const duty = dutyFromPulse(input) ?? frame.get('injDuty');
	const channels = log.channels.flatMap((c): ChannelSummary[] => {
		if (CHANNELS.get(c.id)?.quantity === 'text') return [];
		const { min, max } = boundsOf(c);
		return Number.isFinite(min)
			? [{ id: c.id, unit: c.unit, min, median: median(thinned(c.values, MEDIAN_OF)), max }]
			: [];
	});
	if (duty && !frame.has('injDuty')) {
		const { min, max } = boundsOf({ values: duty });
		if (Number.isFinite(min))
			channels.push({ id: 'injDuty', unit: '%', min, median: median(thinned(duty, MEDIAN_OF)), max });
	}
	const ambientC = ambientOf(input);
	const known = Number.isFinite(ambientC);
	const density = airDensity(known ? ambientC : 20, segments.baroKpa);
	const sources = { ...pullSources(input), power: frame.get('power'), torque: frame.get('torque') };
	const pulls = rpm
		? segments.pulls.map((pull): PullSummaryByRpm => {
				const bins = rpmBins(rpm, pull, BIN_RPM);
				const values: PullSummaryByRpm['values'] = {};
				for (const [name, list] of Object.entries(sources))
					if (list) values[name] = name === 'knock' ? bins.highest(list) : bins.mean(list);
				const power = pullPower(frame, segments, vehicle, pull, density);
				return {
					fromS: pull.fromS,
					gear: pull.gear ?? 0,
					rpm: bins.lows,
					values,
					power: 'missing' in power ? null : power,
					noPower: 'missing' in power ? power.missing : ''
				};
			})
		: [];
	return {
		channels,
		pulls,
		shifts: shiftSpeeds(input),
		slips: timeslips(frame),
		air: known
			? {
					ambientC,
					baroKpa: segments.baroKpa,
					densityAltitudeFt: densityAltitudeFt(ambientC, segments.baroKpa),
					saeFactor: standardAirFactor(vehicle, ambientC, segments.baroKpa)
				}
			: null
	};
}

function shiftSpeeds({ frame, segments }: Prepared): LogSummary['shifts'] {
	const rpm = frame.get('rpm');
	const throttle = frame.first('pedal', 'tps');
	const { gear } = segments;
	if (!rpm || !gear) return [];
	return segments.list.flatMap((s) => {
		if (s.kind !== 'shift') return [];
		const before = Math.max(0, s.from - 1);
		const [from, to] = [gear[before]!, gear[Math.min(gear.length - 1, s.to + 1)]!];
		if (!(from > 0 && to > from) || (throttle && !(throttle[before]! >= 90))) return [];
		let top = 0;
		for (let i = Math.max(0, before - 3); i <= s.to; i++) if (rpm[i]! > top) top = rpm[i]!;
		return [{ gear: from, rpm: Math.round(top) }];
	});
}
