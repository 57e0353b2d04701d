/**
 * `inj.duty`: how long the injectors are open of the time they have. Port: duty % = pulse width ms × rpm × injections / 1200.
 * Direct: pulse width against the injection window, window ms = windowDeg / (0.006 × rpm).
 */
import { finding, found, notChecked, pass } from '../measure.ts';
import { fixed } from '../../format.ts';
import { dutyFromPulse, wider } from '../../evidence/duty.ts';
import { stretches } from '../../stats/runs.ts';
import { runningMedian, median } from '../../stats/stats.ts';
import { check, MORE_FUEL, type Told } from '../check.ts';
import { grade, type Raised } from '../types.ts';
import type { Prepared } from '../../evidence/prepared.ts';

const SMOOTH_S = 0.1;

/** How the duty came to be known. */
const HOW = {
	window: 'of the injection window',
	pulse: 'from pulse width',
	logged: 'as logged',
	kept: 'kept by the controller since it was cleared, typed in'
};
type Facts = {
	dutyPct: number;
	rpm?: number;
	how: keyof typeof HOW;
	/** Logged less computed where the engine works, where they differ. */
	apartPoints?: number;
	/** Over a limit; otherwise only the two differ. */
	high: boolean;
};

const highestSaid = ({ dutyPct, rpm, how }: Pick<Facts, 'dutyPct' | 'rpm' | 'how'>): string =>
	`duty ${fixed(dutyPct, 1)} %${rpm === undefined ? '' : ` at ${Math.round(rpm)} rpm`} (${HOW[how]}).`;

/** The highest duty that a controller kept since it was cleared, where somebody typed it and it is beyond a limit. */
function keptDuty(input: Prepared): Raised<Facts> | null {
	const { keptDutyPct, profile } = input;
	const graded =
		keptDutyPct === null
			? null
			: grade(keptDutyPct, {
					watch: profile.dutyWatchPct,
					fix: profile.dutyFixPct,
					stop: profile.dutyStopPct
				});
	return graded
		? finding(input, {
				kind: 'kept',
				severity: graded.severity,
				facts: { dutyPct: keptDutyPct!, how: 'kept', high: true },
				value: keptDutyPct!,
				limit: graded.limit,
				unit: '%',
				channels: ['injDuty']
			})
		: null;
}

export const injDuty = check({
	code: 'inj.duty',
	title: 'Injector duty',
	section: 'supply',
	leads: true,
	advice: 'part',
	remedy: MORE_FUEL,
	needs: ['injection', 'window'],
	readiness: { item: 'Injector duty', against: (_, p) => `under ${p.dutyWatchPct} %` },
	units: { dutyPct: '%', rpm: 'rpm', apartPoints: '%' },
	run(input) {
		const { frame, vehicle, profile } = input;
		const computed = dutyFromPulse(input);
		const logged = frame.get('injDuty');
		const kept = keptDuty(input);
		if (!computed && !logged && kept) return found(kept);
		if (!computed && !logged) {
			const direct = vehicle.engine.injection === 'direct' && frame.first('pw.b1', 'pw.b2') !== null;
			return direct
				? notChecked(
						'the injection window of the direct injectors is not stated',
						'vehicle: injectors.windowDeg'
					)
				: notChecked('neither pulse width nor injector duty is logged', 'pw.b1');
		}
		const width = Math.max(1, 2 * Math.floor(SMOOTH_S / frame.stepS / 2) + 1);
		const smooth = [computed, logged].flatMap((d) => (d ? [runningMedian(d, width)] : []));
		const duty = smooth.reduce(wider);
		let at = 0;
		for (let i = 0; i < duty.length; i++) if (duty[i]! > duty[at]! || duty[at] !== duty[at]) at = i;
		const highest = duty[at]!;
		if (!Number.isFinite(highest)) return notChecked('the injector channels hold no values', 'pw.b1');
		const rpm = frame.get('rpm');
		const apart = computed && logged ? differ(computed, logged) : 0;
		const graded = grade(highest, {
			watch: profile.dutyWatchPct,
			fix: profile.dutyFixPct,
			stop: profile.dutyStopPct
		});
		const seen = {
			dutyPct: highest,
			...(rpm && Number.isFinite(rpm[at]) ? { rpm: rpm[at]! } : {}),
			how: !computed ? 'logged' : vehicle.engine.injection === 'direct' ? 'window' : 'pulse'
		} as const;
		const differs = Math.abs(apart) > profile.dutyDiffersPoints;
		if (!graded && kept) return found(kept);
		if (!graded && !differs) return pass(`Highest ${highestSaid(seen)}`);
		return found(
			finding(input, {
				severity: graded?.severity ?? 'note',
				facts: { ...seen, ...(differs ? { apartPoints: apart } : {}), high: graded !== null },
				value: highest,
				limit: graded?.limit ?? profile.dutyWatchPct,
				unit: '%',
				runs: stretches(frame, 0, (i) => duty[i]! > profile.dutyWatchPct, 0.2),
				channels: ['pw.b1', 'pw.b2', 'injDuty', 'rpm']
			})
		);
	},
	words: ({ facts }: Told<Facts>) => {
		const { dutyPct, apartPoints, high } = facts;
		const doubt =
			apartPoints === undefined
				? ''
				: ` The logged duty is ${fixed(Math.abs(apartPoints), 1)} points ${apartPoints > 0 ? 'above' : 'below'} what the pulse width gives: check injections per cycle.`;
		return {
			title: high ? `Injector duty ${fixed(dutyPct, 0)} %` : 'Two duties that differ',
			summary: `Highest injector ${highestSaid(facts)}${doubt}`,
			causes: [
				'injectors too small for this power',
				'fuel pressure below its set point',
				'more ethanol than planned',
				'denser air than the injectors were chosen for'
			],
			next: [
				'no more boost or engine speed on these injectors',
				'bigger injectors, more base pressure, or less ethanol'
			]
		};
	}
});

/** Median of logged − computed where the engine works, in points. */
function differ(computed: Float32Array, logged: Float32Array): number {
	const gaps: number[] = [];
	const step = Math.max(1, Math.floor(computed.length / 20000));
	for (let i = 0; i < computed.length; i += step) {
		const d = logged[i]! - computed[i]!;
		if (d === d && Math.max(logged[i]!, computed[i]!) > 20) gaps.push(d);
	}
	return gaps.length ? median(gaps) : 0;
}
