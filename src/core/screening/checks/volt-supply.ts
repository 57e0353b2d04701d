/** `volt.supply`: the supply while the engine runs, and how far it falls in a pull. */
import { fixed } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, heldHigh, heldLow, notChecked, pass } from '../measure.ts';
import { check } from '../check.ts';
import type { Finding, Severity } from '../types.ts';

const HOLD_S = 1;
const RUNNING_RPM = 400;

export const voltSupply = check({
	code: 'volt.supply',
	title: 'Supply voltage',
	section: 'readiness',
	advice: 'repair',
	doubts: ['pulse'],
	readiness: {
		item: 'Supply',
		against: (_, p) => `${p.voltLowWatch} to ${p.voltHighWatch} V while running`
	},
	run(input) {
		const { frame, segments, profile: p } = input;
		const volts = frame.get('vbat');
		const rpm = frame.get('rpm');
		if (!volts) return notChecked('the supply voltage is not logged', 'vbat');
		if (!rpm) return notChecked('engine speed is not logged', 'rpm');
		const running = (i: number) => rpm[i]! > RUNNING_RPM && !(segments.flags[i]! & FLAG.start);
		const low = heldLow(frame, volts, HOLD_S, segments.running, running);
		const high = heldHigh(frame, volts, HOLD_S, segments.running, running);
		if (low.at < 0) return notChecked('the engine does not run in this log', 'a running engine');
		let fall = 0;
		let worstPull = segments.pulls[0];
		for (const pull of segments.pulls) {
			let least = Infinity;
			for (let i = pull.from; i <= pull.to; i++) if (volts[i]! < least) least = volts[i]!;
			const fell = volts[pull.from]! - least;
			if (fell > fall) {
				fall = fell;
				worstPull = pull;
			}
		}
		const make = (
			severity: Severity,
			title: string,
			value: number,
			limit: number,
			more: Partial<Finding>,
			runs: { from: number; to: number }[]
		) =>
			found(
				finding(input, {
					code: 'volt.supply',
					severity,
					title,
					summary: `While the engine ran the supply was between ${fixed(low.level, 1)} and ${fixed(high.level, 1)} V (each held for a second)${fall > p.voltFall ? `; it fell by ${fixed(fall, 1)} V within a pull` : ''}.`,
					value,
					limit,
					unit: 'V',
					runs,
					channels: ['vbat', 'rpm'],
					causes: more.causes ?? [],
					next: more.next ?? []
				})
			);
		const charging = {
			causes: ['alternator or its belt', 'a bad earth or main connection', 'a battery at its end'],
			next: [
				'measure at the battery and at the controller',
				'dead time of the injectors depends on it: don’t judge fuel before it holds'
			]
		};
		const below = (v: number) => stretches(frame, HOLD_S, (i) => running(i) && volts[i]! < v, 0.5);
		const above = (v: number) => stretches(frame, HOLD_S, (i) => running(i) && volts[i]! > v, 0.5);
		const regulator = {
			causes: ['voltage regulator', 'a sense wire that is off'],
			next: ['check the regulator before it takes electronics along']
		};
		if (low.level < p.voltLowFix)
			return make(
				'fix',
				`Supply down to ${fixed(low.level, 1)} V`,
				low.level,
				p.voltLowFix,
				charging,
				below(p.voltLowFix)
			);
		if (high.level > p.voltHighFix)
			return make(
				'fix',
				`Supply up to ${fixed(high.level, 1)} V`,
				high.level,
				p.voltHighFix,
				regulator,
				above(p.voltHighFix)
			);
		if (low.level < p.voltLowWatch)
			return make(
				'watch',
				`Supply down to ${fixed(low.level, 1)} V`,
				low.level,
				p.voltLowWatch,
				charging,
				below(p.voltLowWatch)
			);
		if (high.level > p.voltHighWatch)
			return make(
				'watch',
				`Supply up to ${fixed(high.level, 1)} V`,
				high.level,
				p.voltHighWatch,
				regulator,
				above(p.voltHighWatch)
			);
		if (fall > p.voltFall)
			return make('watch', `Supply falls by ${fixed(fall, 1)} V in a pull`, fall, p.voltFall, charging, [
				{ from: worstPull!.from, to: worstPull!.to }
			]);
		// Both are levels that were held: of a steady supply the held low can lie a shade above the held high.
		const [from, to] = [Math.min(low.level, high.level), Math.max(low.level, high.level)].map((v) =>
			fixed(v, 1)
		);
		return pass(
			from === to ? `Supply at ${from} V while running.` : `Supply between ${from} and ${to} V while running.`
		);
	}
});
