/**
 * `inj.reserve`: the pulse near the limiter on the worst day. The part without dead time goes with the air mass and the fuel's need;
 * the duty is taken at the rev limit. Where the log doesn't get near the limiter, the pulse's own trend is carried on: the pulse of the
 * torque peak is a longer one.
 */
import { fixed, marked } from '../../format.ts';
import { directDutyPct, portDutyPct } from '../../evidence/duty.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { interpolateCurve } from '../../calibration/grid.ts';
import { stoichOfBlend } from '../../units/fuel.ts';
import { derived } from '../../logfile/columns.ts';
import { stretches, type Run } from '../../stats/runs.ts';
import { finding, found, heldHigh, medianWhere, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { pressureShortfall } from './supply-pressure.ts';
import { boostControlOf, worstDayAir, type BoostControl } from './worst-day.ts';
import type { Frame } from '../../logfile/frame.ts';
import { check, MORE_FUEL } from '../check.ts';

const HOLD_S = 0.1;
/** Near the limiter: from this share of the rev limit on. */
const NEAR_LIMIT = 0.9;
/** A log that never gets so far up tells nothing of the limiter. */
const LEAST_REACH = 0.6;
/** Of a log that doesn't get near the limiter the trend over so much engine speed is carried on. */
const TREND_RPM = 1000;
/** A mixture further off than this is a fault of its own, not a need. */
const MOST_WANTED = 1.2;
const CONTROL_WORDS: Record<BoostControl, string> = {
	absolute: 'the same absolute boost',
	gauge: 'the same boost over the barometer',
	ratio: 'the same pressure ratio',
	centrifugal: 'the same shaft speed of the charger'
};
const PETROL_KG_L = 0.745;
const ETHANOL_KG_L = 0.789;

const density = (ethanolPct: number) => PETROL_KG_L + ((ETHANOL_KG_L - PETROL_KG_L) * ethanolPct) / 100;

/**
 * Pulse for the same air and lambda, against now: mass goes with 1/stoich, and an injector's mass flow with √density.
 */
export function fuelFactor(nowPct: number, mostPct: number): number {
	const pulse = (pct: number) => 1 / (stoichOfBlend(pct) * Math.sqrt(density(pct)));
	return pulse(mostPct) / pulse(nowPct);
}

/** Ambient air of a log, °C: its channel's lowest, else the coldest intake air. */
export function ambientOf(frame: Frame): number {
	return (frame.bounds('ambientTemp') ?? frame.bounds('iat'))?.min ?? Number.NaN;
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

export const injReserve = check({
	code: 'inj.reserve',
	title: 'Injectors on the worst day',
	section: 'supply',
	advice: 'part',
	remedy: MORE_FUEL,
	needs: ['displacement', 'window', 'deadTime'],
	run(input) {
		const { frame, segments, profile, vehicle, request } = input;
		const rpm = frame.get('rpm');
		const pulses = ['pw.b1', 'pw.b2'].flatMap((id) => frame.get(id) ?? []);
		const iat = frame.get('iat');
		const { deadTimeMs, injectionsPerCycle = 1, windowDeg } = vehicle.injectors ?? {};
		const direct = vehicle.engine.injection === 'direct';
		if (!rpm) return notChecked('engine speed is not logged', 'rpm');
		if (pulses.length === 0) return notChecked('the pulse width is not logged', 'pw.b1');
		if (!iat) return notChecked('intake air temperature is not logged', 'iat');
		if (direct && !windowDeg)
			return notChecked('the injection window is not stated', 'vehicle: injectors.windowDeg');
		if (!deadTimeMs?.length && !direct)
			return notChecked('the dead time of the injectors is not stated', 'vehicle: injectors.deadTimeMs');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const volts = frame.get('vbat');
		const ambientC = ambientOf(frame);
		const limitRpm = vehicle.engine.revLimitRpm;
		const nowPct = vehicle.fuel?.ethanolPct ?? 0;
		const mostPct = Math.max(nowPct, request?.conditions?.ethanolPct ?? 0);
		const fuel = vehicle.fuel?.stoich === undefined ? fuelFactor(nowPct, mostPct) : 1;
		const dead = (i: number) =>
			deadTimeMs?.length
				? interpolateCurve(
						deadTimeMs.map((d) => d[0]),
						deadTimeMs.map((d) => d[1]),
						volts && volts[i] === volts[i] ? volts[i]! : 14
					)
				: 0;
		const map = frame.get('map');
		const control = boostControlOf(vehicle);
		const short = pressureShortfall(input);
		const lean = wantedShare(input);
		// Effective pulse on the worst day, with sound fuel pressure and a mixture on its target, per loaded sample.
		const effective = new Float32Array(frame.length).fill(Number.NaN);
		let topRpm = 0;
		for (const run of segments.loaded)
			for (let i = run.from; i <= run.to; i++) {
				let pw = Number.NaN;
				for (const p of pulses) if (!(p[i]! <= pw) && p[i] === p[i]) pw = p[i]!;
				const air = worstDayAir(
					control,
					{ mapKpa: map?.[i] ?? segments.baroKpa, iatC: iat[i]!, ambientC, baroKpa: segments.baroKpa },
					profile
				);
				const sagging = 'values' in short && short.values[i]! > 0 ? 1 - short.values[i]! / 100 : 1;
				const v = Math.max(0, pw - dead(i)) * air * fuel * lean * Math.sqrt(sagging);
				if (v !== v) continue;
				effective[i] = v;
				if (rpm[i]! > topRpm) topRpm = rpm[i]!;
			}
		if (!(topRpm >= limitRpm * LEAST_REACH))
			return notChecked(
				`no loaded driving above ${Math.round(limitRpm * LEAST_REACH)} rpm`,
				'a full-throttle pull'
			);
		const reached = topRpm >= limitRpm * NEAR_LIMIT;
		const slope = reached ? 0 : trendOf(rpm, effective, segments.loaded, topRpm);
		const duty = (i: number) => {
			const pulse = Math.max(0, effective[i]! + slope * (limitRpm - rpm[i]!)) + dead(i);
			return direct
				? directDutyPct(pulse, limitRpm, windowDeg!)
				: portDutyPct(pulse, limitRpm, injectionsPerCycle);
		};
		const from = reached ? limitRpm * NEAR_LIMIT : topRpm - TREND_RPM / 2;
		const projected = derived(
			effective,
			(v, i) => (v === v && rpm[i]! >= from ? duty(i) : Number.NaN),
			segments.loaded
		);
		const top = heldHigh(frame, projected, HOLD_S, segments.loaded);
		if (top.at < 0)
			return notChecked('no loaded driving lasts long enough near the limiter', 'a full-throttle pull');
		const { level } = top;
		const how = `at ${limitRpm} rpm on a day of ${marked(profile.worstDayC, '°C')}${mostPct > nowPct ? ` with ${mostPct} % ethanol` : ''}`;
		if (level <= profile.reserveWatchPct) return pass(`Duty projected to ${fixed(level, 0)} % ${how}.`);
		const fix = level > profile.reserveFixPct;
		const limit = fix ? profile.reserveFixPct : profile.reserveWatchPct;
		return found(
			finding(input, {
				code: 'inj.reserve',
				severity: fix ? 'fix' : 'watch',
				title: `Injectors at ${fixed(level, 0)} % on the worst day`,
				summary: `The pulse at ${Math.round(rpm[top.at]!)} rpm, carried over to the worst day${reached ? '' : ` and by its trend to ${limitRpm} rpm`}, is ${fixed(level, 0)} % duty ${how}${control ? `, ${CONTROL_WORDS[control]}` : ''}.`,
				value: level,
				limit,
				unit: '%',
				runs: stretches(frame, HOLD_S, (i) => projected[i]! > limit, 0.2),
				channels: ['pw.b1', 'pw.b2', 'rpm', 'iat', 'ambientTemp'],
				causes: [
					'injectors too small for this power in cold air',
					'a rev limit or a blend above what they were chosen for'
				],
				next: ['bigger injectors, more base pressure, less boost or less ethanol before winter']
			})
		);
	}
});
