/**
 * Power and torque over engine speed from whatever there is: typed from a sheet, logged by the controller, or worked out from the road; each as it
 * is and brought to standard air, before and after, and what was gained.
 */
import { interpolateCurve } from '../calibration/grid.ts';
import { ambientOf } from '../evidence/ambient.ts';
import type { Prepared } from '../evidence/prepared.ts';
import type { Readings } from '../evidence/readings.ts';
import { bestPull, pullCurves } from '../evidence/segments/pull-curves.ts';
import { rpmBins } from '../evidence/segments/rpm-bins.ts';
import { standardAirFactor } from './air.ts';
import { airDensity, BIN_RPM, pullPower } from './road-power.ts';

export type PowerSource = 'typed' | 'logged' | 'road';

export interface PowerCurve {
	source: PowerSource;
	of: 'before' | 'after';
	rpm: number[];
	powerKw: (number | null)[];
	torqueNm: (number | null)[];
	/** Brought to 25 °C and 990 hPa of dry air (SAE J1349). */
	corrected: boolean;
}

export interface Peak {
	powerKw: number;
	powerRpm: number;
	torqueNm: number;
	torqueRpm: number;
}

export interface PowerAnswer {
	curves: PowerCurve[];
	/** By 500 rpm, where both were driven: after less before, of the best source that both have, without correction. */
	gain: { rpm: number; powerKw: number; torqueNm: number }[];
	peaks: { before: Peak | null; after: Peak | null; gain: { powerKw: number; torqueNm: number } | null };
	/** By what the gain was taken. */
	gainBy: PowerSource | null;
}

/** kW at an engine speed from Nm, and back: P = 2π·n·T. */
const PER_NM = (2 * Math.PI) / 60_000;
export const kwOf = (torqueNm: number, rpm: number): number => torqueNm * rpm * PER_NM;
export const nmOf = (powerKw: number, rpm: number): number => powerKw / (rpm * PER_NM);

const STEP_RPM = 500;
/** What is typed to a digit comes back to that digit. */
const tidy = (v: number): number => Number(v.toFixed(6));

type Points = [rpm: number, powerKw: number, torqueNm: number][];

function typedPoints(readings: readonly Readings[]): Points {
	const by = new Map<number, { kw?: number; nm?: number }>();
	for (const { readings: list } of readings)
		for (const { quantity, rpm, value } of list) {
			if (rpm === undefined || (quantity !== 'powerKw' && quantity !== 'torqueNm')) continue;
			const at = by.get(rpm) ?? {};
			if (quantity === 'powerKw') at.kw = value;
			else at.nm = value;
			by.set(rpm, at);
		}
	return [...by]
		.sort((a, b) => a[0] - b[0])
		.map(([rpm, { kw, nm }]) => [rpm, kw ?? kwOf(nm!, rpm), nm ?? nmOf(kw!, rpm)]);
}

/** What the controller says of itself, over the widest pull. */
function loggedPoints({ frame, segments }: Prepared): Points {
	const rpm = frame.get('rpm');
	const [power, torque] = [frame.get('power'), frame.get('torque')];
	const widest = [...segments.pulls].sort(
		(a, b) => rpm![b.to]! - rpm![b.from]! - (rpm![a.to]! - rpm![a.from]!)
	)[0];
	if (!rpm || !widest || (!power && !torque)) return [];
	const bins = rpmBins(rpm, widest, BIN_RPM);
	const kw = power && bins.mean(power);
	const nm = torque && bins.mean(torque);
	return bins.lows.flatMap((low, b): Points => {
		const middle = low + BIN_RPM / 2;
		const [p, t] = [kw?.[b] ?? null, nm?.[b] ?? null];
		if (p === null && t === null) return [];
		return [[middle, p ?? kwOf(t!, middle), t ?? nmOf(p!, middle)]];
	});
}

/** From the road, over the pull that says most; empty where a fact of the vehicle is missing. */
function roadPoints(input: Prepared): Points {
	const { frame, segments, vehicle } = input;
	if (!frame.has('rpm') || segments.pulls.length === 0) return [];
	const pull = segments.pulls[bestPull(pullCurves(input))];
	if (!pull) return [];
	const ambientC = ambientOf(input);
	const density = airDensity(Number.isFinite(ambientC) ? ambientC : 20, segments.baroKpa);
	const road = pullPower(frame, segments, vehicle, pull, density);
	if ('missing' in road) return [];
	return road.rpm.flatMap((rpm, i): Points =>
		road.powerKw[i] === null ? [] : [[rpm, road.powerKw[i]!, road.torqueNm[i]!]]
	);
}

/** Power (1) or torque (2) at an engine speed that the points reach over. */
const valueAt = (points: Points, rpm: number, of: 1 | 2): number =>
	interpolateCurve(
		points.map((p) => p[0]),
		points.map((p) => p[of]),
		rpm
	);

function peakOf(points: Points): Peak | null {
	if (points.length === 0) return null;
	const power = points.reduce((a, b) => (b[1] > a[1] ? b : a));
	const torque = points.reduce((a, b) => (b[2] > a[2] ? b : a));
	return {
		powerKw: tidy(power[1]),
		powerRpm: power[0],
		torqueNm: tidy(torque[2]),
		torqueRpm: torque[0]
	};
}

/** What one log and the readings beside it say of power: the points of each source, and the factor to standard air. */
export interface PowerSide {
	points: Record<PowerSource, Points>;
	/** `null` where the day isn't known, or boost is held absolutely. */
	airFactor: number | null;
}

const SOURCES: readonly PowerSource[] = ['typed', 'logged', 'road'];

export function powerSide(input: Prepared, readings: readonly Readings[]): PowerSide {
	return {
		points: { typed: typedPoints(readings), logged: loggedPoints(input), road: roadPoints(input) },
		airFactor: standardAirFactor(input.vehicle, ambientOf(input), input.segments.baroKpa)
	};
}

/** @param before what it is set against; `null` for one log alone, which counts as after */
export function powerOf(after: PowerSide, before: PowerSide | null): PowerAnswer {
	const sides = [...(before ? [['before', before] as const] : []), ['after', after] as const];
	const curves = sides.flatMap(([of, side]): PowerCurve[] =>
		SOURCES.flatMap((source) => {
			const list = side.points[source];
			if (list.length === 0) return [];
			const curve = (factor: number, corrected: boolean): PowerCurve => ({
				source,
				of,
				rpm: list.map((q) => q[0]),
				powerKw: list.map((q) => tidy(q[1] * factor)),
				torqueNm: list.map((q) => tidy(q[2] * factor)),
				corrected
			});
			// A sheet says itself what it was corrected by.
			const factor = source === 'typed' ? null : side.airFactor;
			return [curve(1, false), ...(factor === null ? [] : [curve(factor, true)])];
		})
	);
	const of = (side: 'before' | 'after', source: PowerSource): Points =>
		(side === 'after' ? after : before)?.points[source] ?? [];
	const gainBy = SOURCES.find((s) => of('before', s).length > 0 && of('after', s).length > 0) ?? null;
	const gain: PowerAnswer['gain'] = [];
	if (gainBy) {
		const [a, b] = [of('before', gainBy), of('after', gainBy)];
		const from = Math.max(a[0]![0], b[0]![0]);
		const to = Math.min(a.at(-1)![0], b.at(-1)![0]);
		const gained = (rpm: number, of: 1 | 2) => tidy(valueAt(b, rpm, of) - valueAt(a, rpm, of));
		for (let rpm = Math.ceil(from / STEP_RPM) * STEP_RPM; rpm <= to; rpm += STEP_RPM)
			gain.push({ rpm, powerKw: gained(rpm, 1), torqueNm: gained(rpm, 2) });
	}
	const best = (side: 'before' | 'after') => SOURCES.map((s) => of(side, s)).find((p) => p.length > 0) ?? [];
	const [was, is] = gainBy
		? [peakOf(of('before', gainBy)), peakOf(of('after', gainBy))]
		: [peakOf(best('before')), peakOf(best('after'))];
	return {
		curves,
		gain,
		peaks: {
			before: was,
			after: is,
			gain:
				gainBy && was && is
					? { powerKw: tidy(is.powerKw - was.powerKw), torqueNm: tidy(is.torqueNm - was.torqueNm) }
					: null
		},
		gainBy
	};
}
