/**
 * `inj.duty`: how long the injectors are open of the time they have. Port: duty % = pulse width ms × rpm × injections / 1200.
 * Direct: pulse width against the injection window, window ms = windowDeg / (0.006 × rpm).
 */
import { notChecked, pass, found } from '../measure.ts';
import { fixed } from '../../format.ts';
import { dutyFromPulse, wider } from '../../evidence/duty.ts';
import { stretches } from '../../stats/runs.ts';
import { runningMedian, median } from '../../stats/stats.ts';
import { rangesOf, regionOf, round } from '../ranges.ts';
import { check, MORE_FUEL } from '../check.ts';
import { grade, type Finding } from '../types.ts';

const SMOOTH_S = 0.1;
const DIFFER_POINTS = 3;

export const injDuty = check({
	code: 'inj.duty',
	title: 'Injector duty',
	section: 'supply',
	leads: true,
	advice: 'part',
	remedy: MORE_FUEL,
	needs: ['injection', 'window'],
	readiness: { item: 'Injector duty', against: (_, p) => `under ${p.dutyWatchPct} %` },
	run(input) {
		const { frame, vehicle, profile } = input;
		const computed = dutyFromPulse(input);
		const logged = frame.get('injDuty');
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
		const place = rpm && Number.isFinite(rpm[at]) ? ` at ${Math.round(rpm[at]!)} rpm` : '';
		const how = computed
			? vehicle.engine.injection === 'direct'
				? 'of the injection window'
				: 'from pulse width'
			: 'as logged';
		const channels = ['pw.b1', 'pw.b2', 'injDuty', 'rpm'].filter((id) => frame.has(id));
		const apart = computed && logged ? differ(computed, logged) : 0;
		const graded = grade(highest, {
			watch: profile.dutyWatchPct,
			fix: profile.dutyFixPct,
			stop: profile.dutyStopPct
		});
		const doubt =
			Math.abs(apart) > DIFFER_POINTS
				? ` The logged duty is ${fixed(Math.abs(apart), 1)} points ${apart > 0 ? 'above' : 'below'} what the pulse width gives: check injections per cycle.`
				: '';
		if (!graded && !doubt) return pass(`Highest duty ${fixed(highest, 1)} %${place} (${how}).`);
		const runs = stretches(frame, 0, (i) => duty[i]! > profile.dutyWatchPct, 0.2);
		const finding: Finding = {
			code: 'inj.duty',
			severity: graded?.severity ?? 'note',
			title: graded ? `Injector duty ${fixed(highest, 0)} %` : 'Two duties that differ',
			summary: `Highest injector duty ${fixed(highest, 1)} %${place} (${how}).${doubt}`,
			value: round(highest, 2),
			limit: graded?.limit ?? profile.dutyWatchPct,
			unit: '%',
			channels,
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
		if (runs.length) {
			finding.ranges = rangesOf(runs, frame.timeS);
			finding.region = regionOf(runs, frame);
		}
		return found(finding);
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
