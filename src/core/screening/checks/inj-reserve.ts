/**
 * `inj.reserve`: the pulse near the limiter on the worst day. The part without dead time goes with the air mass and the fuel's need;
 * the duty is taken at the rev limit. Cold air is denser; where the controller holds absolute boost, only temperature counts.
 */
import { interpolateCurve } from '../../cells/grid.ts';
import { FLAG } from '../../segments/segments.ts';
import { stoichOfBlend } from '../../units/fuel.ts';
import { stretches } from '../../segments/runs.ts';
import { finding, found, heldHigh, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { directDutyPct, portDutyPct } from './inj-duty.ts';
import type { Frame } from '../../logfile/frame.ts';
import type { Profile } from '../profile.ts';
import type { Check } from '../types.ts';

const KELVIN = 273.15;
const HOLD_S = 0.1;
/** Near the limiter: from this share of the rev limit on. */
const NEAR_LIMIT = 0.75;
const PETROL_KG_L = 0.745;
const ETHANOL_KG_L = 0.789;

const density = (ethanolPct: number) => PETROL_KG_L + ((ETHANOL_KG_L - PETROL_KG_L) * ethanolPct) / 100;

/** Volume of fuel for the same air and lambda, against now. */
function fuelFactor(nowPct: number, mostPct: number): number {
	return (stoichOfBlend(nowPct) * density(nowPct)) / (stoichOfBlend(mostPct) * density(mostPct));
}

/**
 * How much more air the worst day brings than the logged moment: colder by the profile, no warmer in the cooler than now.
 * @returns a factor of at least 1: on a day that is worse already nothing is taken off
 */
export function worstDayAir(
	iatC: number,
	ambientC: number,
	profile: Profile,
	baroKpa: number,
	holdsBoost: boolean
): number {
	const hotter = Math.max(0, iatC - ambientC);
	const cold = profile.worstDayC + hotter + KELVIN;
	return Math.max(1, ((iatC + KELVIN) / cold) * (holdsBoost ? 1 : profile.worstDayKpa / baroKpa));
}

/** Ambient air of a log, °C: its channel's lowest, else the coldest intake air. */
export function ambientOf(frame: Frame): number {
	return (frame.bounds('ambientTemp') ?? frame.bounds('iat'))?.min ?? Number.NaN;
}

export const injReserve: Check = {
	code: 'inj.reserve',
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
		const turbo = vehicle.engine.aspiration === 'turbo';
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
		const projected = new Float32Array(frame.length).fill(Number.NaN);
		for (let i = 0; i < projected.length; i++) {
			if (!(segments.flags[i]! & FLAG.loaded) || rpm[i]! < limitRpm * NEAR_LIMIT) continue;
			let pw = Number.NaN;
			for (const p of pulses) if (!(p[i]! <= pw) && p[i] === p[i]) pw = p[i]!;
			const lag = dead(i);
			const air = worstDayAir(iat[i]!, ambientC, profile, segments.baroKpa, turbo);
			const needed = Math.max(0, pw - lag) * air * fuel + lag;
			projected[i] = direct
				? directDutyPct(needed, limitRpm, windowDeg!)
				: portDutyPct(needed, limitRpm, injectionsPerCycle);
		}
		const top = heldHigh(frame, projected, HOLD_S, segments.loaded);
		if (top.at < 0)
			return notChecked(
				`no loaded driving above ${Math.round(limitRpm * NEAR_LIMIT)} rpm`,
				'a full-throttle pull'
			);
		const { level } = top;
		const how = `at ${limitRpm} rpm on a day of ${profile.worstDayC} °C${mostPct > nowPct ? ` with ${mostPct} % ethanol` : ''}`;
		if (level <= profile.reserveWatchPct) return pass(`Duty projected to ${level.toFixed(0)} % ${how}.`);
		const fix = level > profile.reserveFixPct;
		const limit = fix ? profile.reserveFixPct : profile.reserveWatchPct;
		return found(
			finding(input, {
				code: 'inj.reserve',
				severity: fix ? 'fix' : 'watch',
				title: `Injectors at ${level.toFixed(0)} % on the worst day`,
				summary: `The pulse at ${Math.round(rpm[top.at]!)} rpm, carried over to the worst day, is ${level.toFixed(0)} % duty ${how}${turbo ? ', the same absolute boost' : ''}.`,
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
};
