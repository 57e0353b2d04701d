/** `temp.coolant`: warm-idle coolant against the vehicle's own band, and the highest anywhere. */
import { marked } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, heldHigh, medianWhere, notChecked, pass } from '../measure.ts';
import { check } from '../check.ts';

/** After this long an engine is warm, or something is wrong. */
const WARM_AFTER_S = 600;
const HOLD_S = 1;

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
		const base = { code: 'temp.coolant', unit: '°C', channels: ['ect', 'rpm'] };
		if (top.level >= profile.coolantFixC) {
			const stop = top.level >= profile.coolantStopC;
			const limit = stop ? profile.coolantStopC : profile.coolantFixC;
			return found(
				finding(input, {
					...base,
					severity: stop ? 'stop' : 'fix',
					title: `Coolant ${marked(top.level, '°C', 0)}`,
					summary: `Coolant reached ${marked(top.level, '°C', 0)}; from ${marked(limit, '°C')} on the engine is too hot.`,
					value: top.level,
					limit,
					runs: stretches(frame, HOLD_S, (i) => ect[i]! >= limit, 2, segments.running),
					causes: [
						'too little coolant, or air in it',
						'fan or thermostat',
						'a blocked radiator',
						'a head gasket'
					],
					next: ['stop and let it cool', 'look at level, fan and thermostat before it is driven again']
				})
			);
		}
		if (idle > high)
			return found(
				finding(input, {
					...base,
					severity: 'watch',
					title: `Coolant ${marked(idle, '°C', 0)} at idle`,
					summary: `At warm idle the coolant stands at ${marked(idle, '°C', 0)}; this vehicle's band is ${marked(low, '°C')} to ${marked(high, '°C')}.`,
					value: idle,
					limit: high,
					runs: stretches(frame, 5, (i) => (segments.flags[i]! & FLAG.idle) !== 0 && ect[i]! > high, 1),
					causes: ['fan', 'coolant level', 'thermostat'],
					next: ['look at fan and level before the next pull']
				})
			);
		if (late < low)
			return found(
				finding(input, {
					...base,
					severity: 'watch',
					title: `Coolant stays at ${marked(late, '°C', 0)}`,
					summary: `After ten minutes of running the coolant is at ${marked(late, '°C', 0)}; this vehicle's band is ${marked(low, '°C')} to ${marked(high, '°C')}.`,
					value: late,
					limit: low,
					causes: [
						'a thermostat that does not close',
						'a sensor that reads low',
						'a low-temperature thermostat that the vehicle does not state'
					],
					next: ["check the thermostat, or state the vehicle's own band"]
				})
			);
		return pass(
			`Highest coolant ${marked(top.level, '°C', 0)}${Number.isFinite(idle) ? `, ${marked(idle, '°C', 0)} at warm idle (band ${marked(low, '°C')} to ${marked(high, '°C')})` : '; no warm idle in this log'}.`
		);
	}
});
