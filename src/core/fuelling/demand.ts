/** What the injectors have to bring: from figures before there is a log, or from one. */
import type { Profile } from '../limits/profile.ts';
import { InputError } from '../input-error.ts';
import { ethanolPctOf } from '../evidence/ethanol.ts';
import type { Prepared } from '../evidence/prepared.ts';
import { dutyFromPulse } from '../evidence/duty.ts';
import { boostControlOf, worstDayAir } from '../screening/checks/worst-day.ts';
import { heldHigh } from '../screening/measure.ts';
import { fuelFactor, HOLD_S, reserveOf } from '../screening/reserve.ts';
import { ambientOf } from '../evidence/ambient.ts';
import { median } from '../stats/stats.ts';
import { densityOfBlend } from '../units/fuel.ts';
import type { Vehicle } from '../vehicle/document.ts';
import { goalBoost, withWorstDay, type Candidate, type Goal } from './goal.ts';
import { deadTimeMs, deadTimeOf, RUNNING_V } from '../evidence/dead-time.ts';
import { dutyOf, flowOf, massFactor, pressureOver, SUPPLY_V } from './injector.ts';

export type Day = 'warm' | 'worst';

export interface Demand {
	basis: 'log' | 'figures';
	/** Duty of the injectors that are in, today; `null` where it can't be said. */
	nowPct: number | null;
	/** Duty at the rev limit of injectors, with a blend, on a day. @throws InputError where a fact is missing */
	dutyPct(injectors: Candidate, ethanolPct: number, day: Day): number;
	/** All injectors together on the worst day, litres an hour. */
	fuelLh(ethanolPct: number): number;
}

/** The warm day of a plan; the power of the figures stands for it and for this air. Our own choice. */
export const WARM_C = 25;
export const WARM_KPA = 99;
/** Intake air over the outside where it is boosted. */
const BOOSTED_OVER_C = 20;
/** Fuel for power at λ of about 0.8, lb per hp and hour: the middle of the handbook's range (0.45–0.50, 0.55–0.60, 0.60–0.65). */
export const BSFC: Record<Vehicle['engine']['aspiration'], number> = {
	na: 0.475,
	supercharged: 0.575,
	turbo: 0.625
};
const G_PER_LB = 453.59237;

/** Flow at the pressure that the vehicle's injectors are rated at, cm³/min. */
function ratedFlow(vehicle: Vehicle, { flowCcMin, ratedPressureKpa }: Candidate): number {
	const own = vehicle.injectors?.ratedPressureKpa;
	return own && ratedPressureKpa ? flowCcMin * Math.sqrt(own / ratedPressureKpa) : flowCcMin;
}

/** Dead time of injectors to choose from, ms: their own, else that of the ones that are in. */
function deadOf(vehicle: Vehicle, { deadTimeMs: own }: Candidate, volts: number): number {
	if (own === undefined) return deadTimeMs(vehicle, volts);
	return typeof own === 'number' ? own : deadTimeOf(own, volts);
}

/** @param profile its worst day stands where the goal names none. @throws InputError where neither the power nor a log tells of the demand */
export function demandFromFigures(vehicle: Vehicle, goal: Goal, profile: Profile): Demand {
	const { powerHp } = goal;
	if (powerHp === undefined)
		throw new InputError('say the power that is wanted, or give a log to plan from', 'powerHp');
	const { cylinders, aspiration } = vehicle.engine;
	const limitRpm = goal.revLimitRpm ?? vehicle.engine.revLimitRpm;
	const boosted = aspiration !== 'na';
	const map = boosted ? (goalBoost(goal, limitRpm) ?? WARM_KPA * 1.8) : WARM_KPA;
	const air = {
		mapKpa: map,
		iatC: WARM_C + (boosted ? BOOSTED_OVER_C : 0),
		ambientC: WARM_C,
		baroKpa: WARM_KPA
	};
	const colder = worstDayAir(boostControlOf(vehicle), air, withWorstDay(profile, goal));
	/** Petrol for one injector on the warm day, g/min. */
	const petrolG = (powerHp * BSFC[aspiration] * G_PER_LB) / 60 / cylinders;
	const massG = (ethanolPct: number, day: Day) =>
		petrolG * massFactor(ethanolPct) * (day === 'worst' ? colder : 1);
	const over = pressureOver(vehicle, map, WARM_KPA);
	const { injectionsPerCycle = 1 } = vehicle.injectors ?? {};
	const dutyPct = (injectors: Candidate, ethanolPct: number, day: Day) => {
		// cm³/min × kg/l is g/min; a cycle is two turns.
		const massFlow =
			flowOf(vehicle, ratedFlow(vehicle, injectors), ethanolPct, over) * densityOfBlend(ethanolPct);
		const pulseMs = (massG(ethanolPct, day) / massFlow) * (120_000 / limitRpm / injectionsPerCycle);
		return needed(vehicle, dutyOf(vehicle, pulseMs + deadOf(vehicle, injectors, SUPPLY_V), limitRpm));
	};
	const own = vehicle.injectors?.flowCcMin;
	return {
		basis: 'figures',
		nowPct: own ? dutyPct({ flowCcMin: own }, vehicle.fuel?.ethanolPct ?? 0, 'warm') : null,
		dutyPct,
		fuelLh: (e) => (massG(e, 'worst') * cylinders * 60) / densityOfBlend(e) / 1000
	};
}

/** A log that tells of it. @throws InputError where it can't be planned from, with what it lacks */
export function demandFromLog(input: Prepared, goal: Goal): Demand {
	const { vehicle, frame, segments } = input;
	const profile = withWorstDay(input.profile, goal);
	const own = vehicle.injectors?.flowCcMin;
	if (!own)
		throw new InputError(
			'the flow of the injectors that are in is not stated: a log tells of others only by it',
			'injectors.flowCcMin'
		);
	const limitRpm = goal.revLimitRpm ?? vehicle.engine.revLimitRpm;
	const nowPct = ethanolPctOf(input) ?? 0;
	const rpm = frame.get('rpm');
	const map = frame.get('map');
	const iat = frame.get('iat');
	const ambientC = ambientOf(input);
	const control = boostControlOf(vehicle);
	/** Manifold pressure that is asked for where the log ran, kPa. */
	const wanted = (i: number) => {
		const now = map?.[i] ?? segments.baroKpa;
		const goalKpa = vehicle.engine.aspiration === 'na' || !rpm ? null : goalBoost(goal, rpm[i]!);
		return goalKpa === null ? now : goalKpa;
	};
	const airOn = (day: Day) => (i: number) => {
		const now = map?.[i] ?? segments.baroKpa;
		const mapKpa = wanted(i);
		const more = mapKpa / now;
		const state = { mapKpa, iatC: iat![i]!, ambientC, baroKpa: segments.baroKpa };
		if (day === 'worst') return more * worstDayAir(control, state, profile);
		// A day of 25 °C: intake air as much over the outside as it was; absolute boost stays what it is.
		return (more * (iat![i]! + KELVIN)) / (WARM_C + Math.max(0, iat![i]! - ambientC) + KELVIN);
	};
	const at = (injectors: Candidate, ethanolPct: number, day: Day) => {
		const blend = vehicle.fuel?.stoich === undefined ? fuelFactor(nowPct, ethanolPct) : 1;
		const r = reserveOf(input, {
			air: airOn(day),
			factor: (blend * own) / ratedFlow(vehicle, injectors),
			limitRpm
		});
		if ('why' in r) throw new InputError(`the log can't be planned from: ${r.why}`, r.missing);
		// The level has the dead time of the injectors that are in.
		if (injectors.deadTimeMs === undefined) return r.level;
		const volts = loadedVolts(input);
		const otherMs = deadOf(vehicle, injectors, volts) - deadTimeMs(vehicle, volts);
		return r.level + needed(vehicle, dutyOf(vehicle, otherMs, limitRpm));
	};
	const duty = dutyFromPulse(input);
	const held = duty && heldHigh(frame, duty, HOLD_S, segments.loaded);
	const over = pressureOver(
		vehicle,
		Math.max(segments.baroKpa, ...(goal.boostKpa ?? []).map(([, k]) => k)),
		segments.baroKpa
	);
	const deadPct = needed(vehicle, dutyOf(vehicle, deadTimeMs(vehicle), limitRpm));
	return {
		basis: 'log',
		nowPct: held && held.at >= 0 ? held.level : null,
		dutyPct: at,
		fuelLh: (e) =>
			(((at({ flowCcMin: own }, e, 'worst') - deadPct) / 100) *
				flowOf(vehicle, own, e, over) *
				vehicle.engine.cylinders *
				60) /
			1000
	};
}
const KELVIN = 273.15;

/** Supply while loaded, V. */
function loadedVolts({ frame, segments }: Prepared): number {
	const volts = frame.get('vbat');
	const list = volts ? segments.loaded.flatMap(({ from, to }) => [...volts.subarray(from, to + 1)]) : [];
	const level = median(list.filter((v) => v === v));
	return Number.isFinite(level) ? level : RUNNING_V;
}

function needed(vehicle: Vehicle, duty: number | null): number {
	if (duty === null)
		throw new InputError(
			`the injection window of ${vehicle.name} is not stated: a direct injector has no duty without it`,
			'injectors.windowDeg'
		);
	return duty;
}
