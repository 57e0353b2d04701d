/**
 * The pulse near the limiter in another case than the logged one: another day, blend, boost, limiter or injector. The part without dead time
 * goes with the air mass and the fuel's need; the duty is taken at the rev limit. The pulse is that of the highest engine speeds which were
 * driven, carried to the limit by its own trend: the pulse of the torque peak is a longer one, and that of 600 rpm below the limit is too.
 */
import { deadTimeMs } from '../evidence/dead-time.ts';
import { directDutyPct, portDutyPct } from '../evidence/duty.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { derived } from '../logfile/columns.ts';
import type { Run } from '../stats/runs.ts';
import { densityOfBlend, stoichOfBlend } from '../units/fuel.ts';
import { pressureShortfall } from './checks/supply-pressure.ts';
import { heldHigh, medianWhere } from './measure.ts';

/** What counts as held. */
export const HOLD_S = 0.1;
/** Near the limiter: from this share of the rev limit on. */
const NEAR_LIMIT = 0.9;
/** The pulse that counts is that of the highest engine speeds that were driven: 600 rpm further down it is a longer one. */
const TOP_RPM = 200;
/** A log that never gets so far up tells nothing of the limiter. */
const LEAST_REACH = 0.6;
/** Of a log that doesn't get near the limiter the trend over so much engine speed is carried on. */
const TREND_RPM = 1000;
/** A mixture further off than this is a fault of its own, not a need. */
const MOST_WANTED = 1.2;
/**
 * Pulse for the same air and lambda, against now: mass goes with 1/stoich, and an injector's mass flow with √density.
 */
export function fuelFactor(nowPct: number, mostPct: number): number {
	const pulse = (pct: number) => 1 / (stoichOfBlend(pct) * Math.sqrt(densityOfBlend(pct)));
	return pulse(mostPct) / pulse(nowPct);
}

/** How much more fuel the leanest bank wants than it gets near full load: its median lambda over the target; 1 where nothing tells. */
function wantedShare(input: Prepared): number {
	const { believed, segments, target } = input;
	if (!target.values) return 1;
	let most = 1 / MOST_WANTED;
	for (const lambda of believed.banks) {
		if (!lambda) continue;
		const off = derived(lambda, (v, i) => v / target.values![i]!, segments.loaded);
		const share = medianWhere(off, (i) => off[i] === off[i], ENOUGH_FOR_SHARE);
		if (share > most) most = share;
	}
	return most > 1 / MOST_WANTED ? Math.min(MOST_WANTED, most) : 1;
}
const ENOUGH_FOR_SHARE = 20;

/** Rise of a pulse per rpm over the last 1000 rpm below the highest speed of the log (least squares); 0 where too little says so. */
function trendOf(rpm: Float32Array, pulse: Float32Array, loaded: readonly Run[], topRpm: number): number {
	let n = 0;
	let sx = 0;
	let sy = 0;
	let sxx = 0;
	let sxy = 0;
	for (const run of loaded)
		for (let i = run.from; i <= run.to; i++) {
			const x = rpm[i]! - topRpm;
			const y = pulse[i]!;
			if (x < -TREND_RPM || y !== y) continue;
			n++;
			sx += x;
			sy += y;
			sxx += x * x;
			sxy += x * y;
		}
	const spread = n * sxx - sx * sx;
	return n >= 10 && spread > 0 ? (n * sxy - sx * sy) / spread : 0;
}

/** Another case than the logged one. */
export interface ReserveCase {
	/** Air mass over that of the log, by sample. */
	air: (i: number) => number;
	/** Pulse for another blend over that for the logged one, and for other injectors over that of those that are in. */
	factor: number;
	limitRpm: number;
}

export type Reserve =
	| {
			/** Highest duty that is held near the limiter, percent. */
			level: number;
			/** Sample that it comes from. */
			at: number;
			/** Near the limiter; else carried on by the pulse's trend. */
			reached: boolean;
			/** Duty at the limiter by sample, percent; NaN where a sample says nothing of it. */
			projected: Float32Array;
	  }
	| { why: string; missing: string };

/** Where a pull has to get to for the limiter to be told of. */
export function reserveOf(input: Prepared, { air, factor, limitRpm }: ReserveCase): Reserve {
	const { frame, segments, vehicle } = input;
	const rpm = frame.get('rpm');
	const pulses = ['pw.b1', 'pw.b2'].flatMap((id) => frame.get(id) ?? []);
	const { injectionsPerCycle = 1, windowDeg } = vehicle.injectors ?? {};
	const direct = vehicle.engine.injection === 'direct';
	const no = (why: string, missing: string) => ({ why, missing });
	if (!rpm) return no('engine speed is not logged', 'rpm');
	if (pulses.length === 0) return no('the pulse width is not logged', 'pw.b1');
	if (!frame.has('iat')) return no('intake air temperature is not logged', 'iat');
	if (direct && !windowDeg) return no('the injection window is not stated', 'vehicle: injectors.windowDeg');
	if (!vehicle.injectors?.deadTimeMs?.length && !direct)
		return no('the dead time of the injectors is not stated', 'vehicle: injectors.deadTimeMs');
	const volts = frame.get('vbat');
	const dead = (i: number) => deadTimeMs(vehicle, volts && volts[i] === volts[i] ? volts[i] : undefined);
	const short = pressureShortfall(input);
	const lean = wantedShare(input);
	// Effective pulse in that case, with sound fuel pressure and a mixture on its target, per loaded sample.
	const effective = new Float32Array(frame.length).fill(Number.NaN);
	let topRpm = 0;
	for (const run of segments.loaded)
		for (let i = run.from; i <= run.to; i++) {
			let pw = Number.NaN;
			for (const p of pulses) if (!(p[i]! <= pw) && p[i] === p[i]) pw = p[i]!;
			const sagging = 'values' in short && short.values[i]! > 0 ? 1 - short.values[i]! / 100 : 1;
			const v = Math.max(0, pw - dead(i)) * air(i) * factor * lean * Math.sqrt(sagging);
			if (v !== v) continue;
			effective[i] = v;
			if (rpm[i]! > topRpm) topRpm = rpm[i]!;
		}
	const logged = vehicle.engine.revLimitRpm;
	if (!(topRpm >= Math.min(logged, limitRpm) * LEAST_REACH))
		return no(
			`no loaded driving above ${Math.round(Math.min(logged, limitRpm) * LEAST_REACH)} rpm`,
			'a full-throttle pull'
		);
	const reached = topRpm >= limitRpm * NEAR_LIMIT;
	const slope = trendOf(rpm, effective, segments.loaded, topRpm);
	const duty = (i: number) => {
		const pulse = Math.max(0, effective[i]! + slope * (limitRpm - rpm[i]!)) + dead(i);
		return direct
			? directDutyPct(pulse, limitRpm, windowDeg!)
			: portDutyPct(pulse, limitRpm, injectionsPerCycle);
	};
	const from = topRpm - TOP_RPM;
	const projected = derived(
		effective,
		(v, i) => (v === v && rpm[i]! >= from ? duty(i) : Number.NaN),
		segments.loaded
	);
	const top = heldHigh(frame, projected, HOLD_S, segments.loaded);
	return top.at < 0
		? no('no loaded driving lasts long enough near the limiter', 'a full-throttle pull')
		: { level: top.level, at: top.at, reached, projected };
}
