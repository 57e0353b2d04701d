/** `volt.supply`: the supply while the engine runs, and how far it falls in a pull. */
import { fixed } from '../../format.ts';
import { FLAG } from '../../evidence/segments/kinds.ts';
import { stretches } from '../../stats/runs.ts';
import { finding, found, heldHigh, heldLow, notChecked, pass } from '../measure.ts';
import { check, type Told } from '../check.ts';
import type { Severity } from '../types.ts';

const HOLD_S = 1;
const RUNNING_RPM = 400;

type Facts = {
	what: 'low' | 'high' | 'fall';
	/** Lowest and highest that were held for a second. */
	lowV: number;
	highV: number;
	/** How far it fell within a pull, where that is too far. */
	fallV?: number;
};

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
	units: { lowV: 'V', highV: 'V', fallV: 'V' },
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
		const raise = (
			what: Facts['what'],
			severity: Severity,
			value: number,
			limit: number,
			runs: readonly { from: number; to: number }[]
		) =>
			found(
				finding(input, {
					severity,
					facts: {
						what,
						lowV: low.level,
						highV: high.level,
						...(fall > p.voltFall ? { fallV: fall } : {})
					},
					value,
					limit,
					unit: 'V',
					runs,
					channels: ['vbat', 'rpm']
				})
			);
		const below = (v: number) => stretches(frame, HOLD_S, (i) => running(i) && volts[i]! < v, 0.5);
		const above = (v: number) => stretches(frame, HOLD_S, (i) => running(i) && volts[i]! > v, 0.5);
		if (low.level < p.voltLowFix) return raise('low', 'fix', low.level, p.voltLowFix, below(p.voltLowFix));
		if (high.level > p.voltHighFix)
			return raise('high', 'fix', high.level, p.voltHighFix, above(p.voltHighFix));
		if (low.level < p.voltLowWatch)
			return raise('low', 'watch', low.level, p.voltLowWatch, below(p.voltLowWatch));
		if (high.level > p.voltHighWatch)
			return raise('high', 'watch', high.level, p.voltHighWatch, above(p.voltHighWatch));
		if (fall > p.voltFall) return raise('fall', 'watch', fall, p.voltFall, [worstPull!]);
		// Both are levels that were held: of a steady supply the held low can lie a shade above the held high.
		const [from, to] = [Math.min(low.level, high.level), Math.max(low.level, high.level)].map((v) =>
			fixed(v, 1)
		);
		return pass(
			from === to ? `Supply at ${from} V while running.` : `Supply between ${from} and ${to} V while running.`
		);
	},
	words: ({ facts: { what, lowV, highV, fallV } }: Told<Facts>) => ({
		title: {
			low: `Supply down to ${fixed(lowV, 1)} V`,
			high: `Supply up to ${fixed(highV, 1)} V`,
			fall: `Supply falls by ${fixed(fallV ?? 0, 1)} V in a pull`
		}[what],
		summary: `While the engine ran the supply was between ${fixed(lowV, 1)} and ${fixed(highV, 1)} V (each held for a second)${fallV === undefined ? '' : `; it fell by ${fixed(fallV, 1)} V within a pull`}.`,
		causes:
			what === 'high'
				? ['voltage regulator', 'a sense wire that is off']
				: ['alternator or its belt', 'a bad earth or main connection', 'a battery at its end'],
		next:
			what === 'high'
				? ['check the regulator before it takes electronics along']
				: [
						'measure at the battery and at the controller',
						'dead time of the injectors depends on it: don’t judge fuel before it holds'
					]
	})
});
