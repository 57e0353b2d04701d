/**
 * `boost.under`, `boost.over`: manifold pressure against its set point (the channel, else what the vehicle makes when healthy). Too
 * little counts only once the charger had its chance: from where pressure came near the set point, else at speeds where any pull of
 * the log did, else from 1000 rpm after the onset.
 */
import { marked, markedBy } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { interpolateCurve } from '../../calibration/grid.ts';
import { derived } from '../../logfile/columns.ts';
import type { Frame } from '../../logfile/frame.ts';
import { stretches, type Run } from '../../stats/runs.ts';
import { finding, found, heldHigh, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import type { CheckResult, Severity } from '../types.ts';

const NEAR_KPA = 10;
const UNDER_S = 0.5;
const OVER_S = 0.3;
const OVER_STOP_S = 0.1;
const SPOOL_RPM = 1000;
const SPOOL_S = 1;
const WASTEGATE_END_PCT = 95;

/** What the pressure is held against. */
const FROM = { target: 'its set point', healthy: 'what this vehicle makes' };

type Facts = {
	offKpa: number;
	mapKpa: number;
	goalKpa: number;
	rpm: number;
	from: keyof typeof FROM;
	/** The wastegate was closed as far as it goes. */
	gateAtEnd?: boolean;
	/** It had the set point and lost it little by little. */
	outOfBreath?: boolean;
};
const UNITS = { offKpa: 'kPa', mapKpa: 'kPa', goalKpa: 'kPa', rpm: 'rpm' };

/** What the pressure was, and what it should have been. */
const instead = ({ mapKpa, goalKpa }: Facts): string =>
	`${marked(mapKpa, 'kPa abs')} instead of ${marked(goalKpa, 'kPa abs', 0)}`;

interface Boost {
	map: Float32Array;
	rpm: Float32Array;
	/** What the pressure should be. */
	goal: Float32Array;
	from: keyof typeof FROM;
	full: Run[];
	/** Loaded samples of a held pedal: only there the pressure has a set point to answer to. */
	held: Uint8Array;
}

const BEFORE_LIFT_S = 0.3;
const AFTER_LIFT_S = 1;
/** A pedal that comes back by this much is a lift; feet tremble. */
const LIFT_PCT = 5;

/**
 * Loaded samples at which the driver holds the pedal. From 0.3 s before a lift or shift on the set point falls away, and the pressure
 * follows it a second later: what lies between says nothing of the boost control.
 */
function heldPedal({ frame, segments }: Prepared): Uint8Array {
	const pedal = frame.first('pedal', 'tps');
	const { timeS, length } = frame;
	const out = new Uint8Array(length);
	/** Until when a lift that already happened still counts. */
	let until = -Infinity;
	let top = 0;
	for (let i = 0; i < length; i++) {
		if (pedal) {
			// The highest of the last instants: a foot that comes back slowly is a lift as well.
			while (top < i && timeS[i]! - timeS[top]! > BEFORE_LIFT_S) top++;
			for (let k = top; k < i; k++)
				if (pedal[k]! - pedal[i]! > LIFT_PCT) {
					until = timeS[i]! + AFTER_LIFT_S;
					break;
				}
		}
		out[i] = segments.flags[i]! & FLAG.loaded && timeS[i]! > until ? 1 : 0;
	}
	// Backwards: what lies shortly before a lift or a shift.
	let next = Infinity;
	for (let i = length - 1; i >= 0; i--) {
		const lifts = pedal !== null && i > 0 && pedal[i - 1]! - pedal[i]! > LIFT_PCT;
		if (lifts || segments.flags[i]! & FLAG.shift || !(segments.flags[i]! & FLAG.loaded)) next = timeS[i]!;
		if (next - timeS[i]! <= BEFORE_LIFT_S) out[i] = 0;
	}
	return out;
}

function boostOf(input: Prepared): Boost | CheckResult<never> {
	const { frame, segments, vehicle, profile } = input;
	const map = frame.get('map');
	const rpm = frame.get('rpm');
	if (!map) return notChecked('manifold pressure is not logged', 'map');
	if (!rpm) return notChecked('engine speed is not logged', 'rpm');
	const target = frame.get('boostTarget');
	const healthy = vehicle.baselines?.boostKpa;
	if (!target && !healthy?.length)
		return notChecked('neither a set point is logged nor what the vehicle makes is stated', 'boostTarget');
	if (segments.loaded.length === 0) return NEVER_LOADED;
	const throttle = frame.first('tps', 'pedal');
	const wide = (i: number) =>
		(segments.flags[i]! & FLAG.loaded) !== 0 &&
		(throttle === null || throttle[i]! >= profile.loadedThrottlePct);
	const full = stretches(frame, UNDER_S, wide, frame.stepS * 1.5);
	if (full.length === 0)
		return notChecked('there is no full throttle of half a second', 'a full-throttle pull');
	const goal =
		target ??
		derived(rpm, (r) =>
			interpolateCurve(
				healthy!.map((h) => h[0]),
				healthy!.map((h) => h[1]),
				r
			)
		);
	return {
		map,
		rpm,
		goal,
		from: target ? 'target' : 'healthy',
		full,
		held: heldPedal(input)
	};
}

/** Engine speeds (per 100 rpm) at which some pull came near its set point. */
function reached({ map, rpm, goal, full }: Boost): Set<number> {
	const out = new Set<number>();
	for (const run of full)
		for (let i = run.from; i <= run.to; i++)
			if (map[i]! >= goal[i]! - NEAR_KPA) out.add(Math.floor(rpm[i]! / 100));
	return out;
}

/** First sample of a stretch at which the charger had its chance; −1 where it had none. */
function spooledFrom(
	{ map, rpm, goal }: Boost,
	run: Run,
	places: ReadonlySet<number>,
	timeS: Float64Array
): number {
	for (let i = run.from; i <= run.to; i++) if (map[i]! >= goal[i]! - NEAR_KPA) return i;
	const onset = rpm[run.from]!;
	const settled = places.size ? run.from : climbedAt(map, run, timeS);
	for (let i = settled; i <= run.to; i++) {
		const chance = places.size ? places.has(Math.floor(rpm[i]! / 100)) : rpm[i]! >= onset + SPOOL_RPM;
		// A stab of the pedal at a speed where a long pull makes boost says nothing yet.
		if (chance && timeS[i]! - timeS[run.from]! >= SPOOL_S) return i;
	}
	return -1;
}

/** As good as the most that a pull makes, kPa. */
const MOST_KPA = 3;

/**
 * Where a pull that never had its set point has come to what it makes: while the pressure still climbs, what is missing is time, not boost. One
 * that climbs to its end is judged by its end.
 */
function climbedAt(map: Float32Array, run: Run, timeS: Float64Array): number {
	let most = -Infinity;
	for (let i = run.from; i <= run.to; i++) most = Math.max(most, map[i]!);
	let at = run.from;
	while (at < run.to && !(map[at]! >= most - MOST_KPA)) at++;
	while (at > run.from && timeS[run.to]! - timeS[at]! < UNDER_S + BEFORE_LIFT_S) at--;
	return at;
}

const SUDDEN_KPA = 15;
const SUDDEN_S = 0.3;

/** Whether a pull had its set point and then lost it little by little: a hose that comes off takes the pressure at once. */
function outOfBreath({ map, goal }: Boost, run: Run, { timeS }: Frame): boolean {
	let reached = false;
	let before = run.from;
	for (let i = run.from; i <= run.to; i++) {
		if (map[i]! >= goal[i]! - NEAR_KPA) reached = true;
		while (timeS[i]! - timeS[before]! > SUDDEN_S) before++;
		if (reached && map[before]! - map[i]! > SUDDEN_KPA) return false;
	}
	return reached && map[run.to]! < goal[run.to]! - NEAR_KPA;
}

export const boostUnder = check({
	code: 'boost.under',
	title: 'Boost short',
	section: 'air',
	advice: 'repair',
	needs: ['boost'],
	readiness: {
		item: 'Boost',
		against: (v, p) =>
			v.engine.aspiration === 'na'
				? 'none: the engine breathes by itself'
				: `at most ${markedBy(p.boostUnderWatchKpa, 'kPa')} under its set point`
	},
	units: UNITS,
	run(input) {
		const { frame, profile, vehicle } = input;
		if (vehicle.engine.aspiration === 'na') return pass('The engine has no boost.');
		const b = boostOf(input);
		if ('outcome' in b) return b;
		const places = reached(b);
		const spooled = b.full.flatMap((run): Run[] => {
			const from = spooledFrom(b, run, places, frame.timeS);
			return from >= 0 ? [{ from, to: run.to }] : [];
		});
		const missing = derived(b.goal, (g, i) => (b.held[i] ? g - b.map[i]! : Number.NaN), spooled);
		const top = heldHigh(frame, missing, UNDER_S, spooled);
		if (top.at < 0)
			return notChecked('no full throttle goes on after the charger has spooled', 'a full-throttle pull');
		if (!(top.level > profile.boostUnderWatchKpa))
			return pass(
				`Boost at most ${markedBy(Math.max(0, top.level), 'kPa')} below ${FROM[b.from]} after spool.`
			);
		const fix = top.level > profile.boostUnderFixKpa;
		const gate = frame.get('wastegateDuty');
		const gateAtEnd = gate !== null && gate[top.at]! >= WASTEGATE_END_PCT;
		const run = b.full.find((r) => r.from <= top.at && top.at <= r.to)!;
		const noBreath = gateAtEnd && outOfBreath(b, run, frame);
		return found(
			finding(input, {
				severity: noBreath ? 'note' : fix ? 'fix' : 'watch',
				facts: {
					offKpa: top.level,
					mapKpa: b.map[top.at]!,
					goalKpa: b.goal[top.at]!,
					rpm: b.rpm[top.at]!,
					from: b.from,
					gateAtEnd,
					outOfBreath: noBreath
				},
				value: -top.level,
				limit: -(fix && !noBreath ? profile.boostUnderFixKpa : profile.boostUnderWatchKpa),
				unit: 'kPa',
				runs: stretches(frame, UNDER_S, (i) => missing[i]! > profile.boostUnderWatchKpa, 0.2),
				channels: ['map', 'boostTarget', 'wastegateDuty', 'rpm', ...(noBreath ? [] : ['tps'])]
			})
		);
	},
	words: ({ facts }: Told<Facts>) => {
		const { offKpa, from, gateAtEnd } = facts;
		const rpm = Math.round(facts.rpm);
		if (facts.outOfBreath)
			return {
				title: 'The charger is out of breath towards the top',
				summary: `With the wastegate closed to its end the pressure falls away towards the top, to ${instead(facts)} at ${rpm} rpm, after it had reached ${FROM[from]}: that is all this charger gives, no leak.`,
				causes: ['a charger at the end of its flow', 'a restriction before or behind it'],
				next: ['let the set point fall towards the top as the pressure does']
			};
		return {
			title: `Boost ${markedBy(offKpa, 'kPa')} short`,
			summary: `After spool the pressure stays ${markedBy(offKpa, 'kPa')} below ${FROM[from]}: ${instead(facts)} at ${rpm} rpm.${gateAtEnd ? ' The wastegate duty is at its end.' : ''}`,
			causes: [
				'a leak: a loose hose clamp is the usual one',
				'a wastegate that opens early',
				'a charger, belt or actuator at its end'
			],
			next: ['clamps and hoses first, under pressure', 'then wastegate line and actuator']
		};
	}
});

export const boostOver = check({
	code: 'boost.over',
	title: 'Boost too high',
	section: 'air',
	needs: ['boost'],
	units: UNITS,
	run(input) {
		const { frame, segments, profile, vehicle } = input;
		if (vehicle.engine.aspiration === 'na') return pass('The engine has no boost.');
		const b = boostOf(input);
		if ('outcome' in b) return b;
		const { loaded } = segments;
		const excess = derived(
			b.map,
			(m, i) => (b.held[i] ? m - Math.max(b.goal[i]!, segments.baroKpa) : Number.NaN),
			loaded
		);
		const sustained = heldHigh(frame, excess, OVER_S, loaded);
		const brief = heldHigh(frame, excess, OVER_STOP_S, loaded);
		if (sustained.at < 0 && brief.at < 0)
			return notChecked('the pedal is never held under load for long enough', 'loaded driving');
		const grade: { severity: Severity; limit: number; value: number } | null =
			brief.level > profile.boostOverStopKpa
				? { severity: 'stop', limit: profile.boostOverStopKpa, value: brief.level }
				: sustained.level > profile.boostOverFixKpa
					? { severity: 'fix', limit: profile.boostOverFixKpa, value: sustained.level }
					: sustained.level > profile.boostOverWatchKpa
						? { severity: 'watch', limit: profile.boostOverWatchKpa, value: sustained.level }
						: null;
		if (!grade)
			return pass(`Boost at most ${markedBy(Math.max(0, sustained.level), 'kPa')} above ${FROM[b.from]}.`);
		const at = grade.severity === 'stop' ? brief.at : sustained.at;
		return found(
			finding(input, {
				severity: grade.severity,
				facts: {
					offKpa: grade.value,
					mapKpa: b.map[at]!,
					goalKpa: b.goal[at]!,
					rpm: b.rpm[at]!,
					from: b.from
				},
				value: grade.value,
				limit: grade.limit,
				unit: 'kPa',
				runs: stretches(frame, OVER_STOP_S, (i) => excess[i]! > profile.boostOverWatchKpa, 0.2),
				channels: ['map', 'boostTarget', 'wastegateDuty', 'rpm']
			})
		);
	},
	words: ({ facts }: Told<Facts>) => ({
		title: `Boost ${markedBy(facts.offKpa, 'kPa')} too high`,
		summary: `The pressure goes ${markedBy(facts.offKpa, 'kPa')} above ${FROM[facts.from]}: ${instead(facts)} at ${Math.round(facts.rpm)} rpm.`,
		causes: [
			'a wastegate line that is off or split',
			'a gate that is too small',
			'boost control that overshoots'
		],
		next: ['no full throttle until it is under control', 'line and actuator first, then the control']
	})
});
