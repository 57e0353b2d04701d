/** `temp.coolant`: warm-idle coolant against the vehicle's own band, and the highest anywhere. */
import { marked } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { stretches, type Run } from '../../stats/runs.ts';
import { finding, found, heldHigh, medianWhere, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import type { Severity } from '../types.ts';

/** After this long an engine is warm, or something is wrong. */
const WARM_AFTER_S = 600;
const HOLD_S = 1;

/** Too hot anywhere, over its own band at idle, or under it after ten minutes. `lowC` and `highC` are that band. */
type Facts = { what: 'hot' | 'idle' | 'cold'; coolantC: number; limitC: number; lowC: number; highC: number };

const CAUSES: Record<Facts['what'], string[]> = {
	hot: ['too little coolant, or air in it', 'fan or thermostat', 'a blocked radiator', 'a head gasket'],
	idle: ['fan', 'coolant level', 'thermostat'],
	cold: [
		'a thermostat that does not close',
		'a sensor that reads low',
		'a low-temperature thermostat that the vehicle does not state'
	]
};
const NEXT: Record<Facts['what'], string[]> = {
	hot: ['stop and let it cool', 'look at level, fan and thermostat before it is driven again'],
	idle: ['look at fan and level before the next pull'],
	cold: ["check the thermostat, or state the vehicle's own band"]
};

export const tempCoolant = check({
	code: 'temp.coolant',
	title: 'Coolant',
	section: 'readiness',
	advice: 'repair',
	readiness: {
		item: 'Coolant',
		against: (v, p) => {
			const [low, high] = v.baselines?.coolantIdleC ?? [p.coolantIdleLowC, p.coolantIdleHighC];
			return `${marked(low, '°C')} to ${marked(high, '°C')} at warm idle`;
		}
	},
	units: { coolantC: '°C', limitC: '°C', lowC: '°C', highC: '°C' },
	run(input) {
		const { frame, segments, profile, vehicle } = input;
		const ect = frame.get('ect');
		if (!ect) return notChecked('coolant temperature is not logged', 'ect');
		const top = heldHigh(frame, ect, HOLD_S, segments.running);
		if (top.at < 0) return notChecked('the coolant channel holds no values', 'ect');
		const [low, high] = vehicle.baselines?.coolantIdleC ?? [
			profile.coolantIdleLowC,
			profile.coolantIdleHighC
		];
		const idle = medianWhere(
			ect,
			(i) => (segments.flags[i]! & (FLAG.idle | FLAG.warmup)) === FLAG.idle,
			Math.ceil(5 / frame.stepS)
		);
		const rpm = frame.get('rpm');
		let runningS = 0;
		let warmFrom = 0;
		while (warmFrom < frame.length && runningS <= WARM_AFTER_S) {
			if (rpm && rpm[warmFrom]! > 300) runningS += frame.dtS[warmFrom]!;
			if (runningS <= WARM_AFTER_S) warmFrom++;
		}
		const late = medianWhere(ect, (i) => i >= warmFrom && !(segments.flags[i]! & FLAG.standing));
		const raise = (
			what: Facts['what'],
			severity: Severity,
			coolantC: number,
			limitC: number,
			runs: readonly Run[]
		) =>
			found(
				finding(input, {
					severity,
					facts: { what, coolantC, limitC, lowC: low, highC: high },
					value: coolantC,
					limit: limitC,
					unit: '°C',
					runs,
					channels: ['ect', 'rpm']
				})
			);
		if (top.level >= profile.coolantFixC) {
			const stop = top.level >= profile.coolantStopC;
			const limit = stop ? profile.coolantStopC : profile.coolantFixC;
			const runs = stretches(frame, HOLD_S, (i) => ect[i]! >= limit, 2, segments.running);
			return raise('hot', stop ? 'stop' : 'fix', top.level, limit, runs);
		}
		if (idle > high) {
			const hot = (i: number) => (segments.flags[i]! & FLAG.idle) !== 0 && ect[i]! > high;
			return raise('idle', 'watch', idle, high, stretches(frame, 5, hot, 1));
		}
		if (late < low) return raise('cold', 'watch', late, low, []);
		return pass(
			`Highest coolant ${marked(top.level, '°C', 0)}${Number.isFinite(idle) ? `, ${marked(idle, '°C', 0)} at warm idle (band ${marked(low, '°C')} to ${marked(high, '°C')})` : '; no warm idle in this log'}.`
		);
	},
	words: ({ facts: { what, coolantC, limitC, lowC, highC } }: Told<Facts>) => {
		const at = marked(coolantC, '°C', 0);
		const band = `this vehicle's band is ${marked(lowC, '°C')} to ${marked(highC, '°C')}`;
		const said = {
			hot: {
				title: `Coolant ${at}`,
				summary: `Coolant reached ${at}; from ${marked(limitC, '°C')} on the engine is too hot.`
			},
			idle: { title: `Coolant ${at} at idle`, summary: `At warm idle the coolant stands at ${at}; ${band}.` },
			cold: {
				title: `Coolant stays at ${at}`,
				summary: `After ten minutes of running the coolant is at ${at}; ${band}.`
			}
		}[what];
		return { ...said, causes: CAUSES[what], next: NEXT[what] };
	}
});
