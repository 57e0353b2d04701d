/**
 * The proof protocol: is this knock real or false? One region, the same test repeated: baseline, mixture verified, timing two degrees
 * back (or richer), octane up. Only what stays the same through all of it may be called false. Rule and figures: common practice;
 * the thresholds are defaults.
 */
import { z } from 'zod';
import type { CheckInput } from '../screening/types.ts';
import { FLAG } from '../segments/segments.ts';
import { retardOf } from './episodes.ts';

export const PROOF_STEPS = ['baseline', 'mixture', 'timing', 'octane'] as const;
export type ProofStep = (typeof PROOF_STEPS)[number];

export const STEP_TITLES: Record<ProofStep, string> = {
	baseline: 'Baseline',
	mixture: 'Mixture verified',
	timing: 'Timing 2° back, or richer',
	octane: 'Octane up, at a third to a quarter of a tank'
};

export const regionSchema = z.object({
	rpm: z.tuple([z.number(), z.number()]),
	mapKpa: z.tuple([z.number(), z.number()])
});
export type ProofRegion = z.infer<typeof regionSchema>;

export interface ProofMeasure {
	/** Integral of retard over time in the region per second loaded there: a mean, in degrees. NaN where it wasn't driven. */
	meanRetardDeg: number;
	secondsLoaded: number;
	/** Pulls that went through the region. */
	pulls: number;
	/** Mean intake air there, °C; NaN when it isn't logged. */
	intakeC: number;
	/** Mean engine speed and pressure there: equal driving means within 250 rpm and 5 kPa. */
	rpm: number;
	mapKpa: number;
	/** The retard stood at its own maximum for most of its time: it can't show a change. */
	saturated: boolean;
	/** Share of the retard's time that an independent monitor confirmed, 0–1; null without one. */
	monitor: number | null;
}

const FALLS = 0.3;
const UNCHANGED = 0.15;
const SAME_RPM = 250;
const SAME_KPA = 5;
const SAME_INTAKE_C = 5;
const FEWEST_PULLS = 2;
/** A monitor that confirms this much of the retard agrees with it; one that confirms less than the other contradicts it. */
const MONITOR_AGREES = 0.5;
const MONITOR_CONTRADICTS = 0.1;

/** Measures one log in the region. @returns `null` when no knock channel or no pressure is logged */
export function proofMeasure(input: CheckInput, region: ProofRegion): ProofMeasure | null {
	const { frame, segments, profile } = input;
	const retard = retardOf(frame);
	const rpm = frame.get('rpm');
	const map = frame.get('map');
	if (!retard || !rpm || !map) return null;
	const iat = frame.get('iat');
	const monitor = frame.get('knockMonitor');
	let loaded = 0;
	let integral = 0;
	let top = 0;
	let pulled = 0;
	let heard = 0;
	let sumRpm = 0;
	let sumMap = 0;
	let sumIat = 0;
	let iatS = 0;
	const inside = (i: number) =>
		(segments.flags[i]! & FLAG.loaded) !== 0 &&
		rpm[i]! >= region.rpm[0] &&
		rpm[i]! <= region.rpm[1] &&
		map[i]! >= region.mapKpa[0] &&
		map[i]! <= region.mapKpa[1] &&
		retard[i] === retard[i];
	for (let i = 0; i < frame.length; i++) {
		if (!inside(i)) continue;
		const dt = frame.dtS[i]!;
		loaded += dt;
		integral += retard[i]! * dt;
		sumRpm += rpm[i]! * dt;
		sumMap += map[i]! * dt;
		if (iat && iat[i] === iat[i]) {
			sumIat += iat[i]! * dt;
			iatS += dt;
		}
		if (retard[i]! > top) top = retard[i]!;
		if (retard[i]! >= profile.knockEpisodeDeg) {
			pulled += dt;
			if (monitor && monitor[i]! > profile.monitorLevel) heard += dt;
		}
	}
	let atTop = 0;
	for (let i = 0; i < frame.length; i++)
		if (inside(i) && top > 0 && retard[i]! >= top - 1e-6) atTop += frame.dtS[i]!;
	const pulls = segments.pulls.filter((p) => {
		for (let i = p.from; i <= p.to; i++) if (inside(i)) return true;
		return false;
	}).length;
	return {
		meanRetardDeg: loaded > 0 ? integral / loaded : Number.NaN,
		secondsLoaded: loaded,
		pulls,
		intakeC: iatS > 0 ? sumIat / iatS : Number.NaN,
		rpm: sumRpm / loaded,
		mapKpa: sumMap / loaded,
		saturated: pulled > 0 && atTop > 0.5 * pulled,
		monitor: monitor && pulled > 0 ? heard / pulled : null
	};
}

export interface StepJudgement {
	step: ProofStep;
	/** Change of the compared number against the baseline, percent; null for the baseline and void steps. */
	changePct: number | null;
	/** Why the step can't be compared; empty when it can. */
	void: string;
}

export interface ProofVerdict {
	verdict: 'real' | 'false' | 'unclear' | 'open';
	because: string;
	steps: StepJudgement[];
}

function voidReason(baseline: ProofMeasure, m: ProofMeasure): string {
	if (!(m.secondsLoaded > 0)) return 'the region was not driven under load';
	if (m.pulls < FEWEST_PULLS) return `${m.pulls} pull through the region, two are needed`;
	if (m.saturated) return 'the retard stands at its maximum and can show no change';
	if (m !== baseline) {
		if (Math.abs(m.rpm - baseline.rpm) > SAME_RPM || Math.abs(m.mapKpa - baseline.mapKpa) > SAME_KPA)
			return `not the same driving: ${Math.round(m.rpm)} rpm and ${m.mapKpa.toFixed(0)} kPa on average, ${Math.round(baseline.rpm)} and ${baseline.mapKpa.toFixed(0)} in the baseline`;
		if (!Number.isFinite(m.intakeC) || !Number.isFinite(baseline.intakeC)) return 'intake air is not logged';
		if (Math.abs(m.intakeC - baseline.intakeC) > SAME_INTAKE_C)
			return `intake air ${m.intakeC.toFixed(0)} °C against ${baseline.intakeC.toFixed(0)} °C in the baseline`;
	}
	return '';
}

/**
 * The verdict of the steps measured so far. *False* needs all three steps unchanged within 15 %, or a monitor that contradicts the
 * retard; *real* a fall by 30 % in any step, or a monitor that agrees. Anything else with all steps done is unclear: treated as real.
 */
export function proofVerdict(measures: Partial<Record<ProofStep, ProofMeasure>>): ProofVerdict {
	const { baseline } = measures;
	if (!baseline) return { verdict: 'open', because: 'the baseline is missing', steps: [] };
	const steps = PROOF_STEPS.flatMap((step): StepJudgement[] => {
		const m = measures[step];
		if (!m) return [];
		const reason = voidReason(baseline, m);
		const change =
			reason || step === 'baseline' ? null : 100 * (m.meanRetardDeg / baseline.meanRetardDeg - 1);
		return [{ step, changePct: change, void: reason }];
	});
	const answer = (verdict: ProofVerdict['verdict'], because: string): ProofVerdict => ({
		verdict,
		because,
		steps
	});
	if (!(baseline.meanRetardDeg > 0)) return answer('open', 'the baseline shows no retard in this region');
	const voided = steps.find((s) => s.step === 'baseline' && s.void);
	if (voided) return answer('open', `the baseline can't be compared with: ${voided.void}`);
	const monitors = Object.values(measures).flatMap((m) => (m.monitor === null ? [] : [m.monitor]));
	const heard = monitors.length ? Math.max(...monitors) : null;
	if (heard !== null && heard >= MONITOR_AGREES)
		return answer('real', `the independent monitor hears ${Math.round(100 * heard)} % of it too`);
	const fell = steps.find((s) => s.changePct !== null && s.changePct <= -100 * FALLS);
	if (fell)
		return answer(
			'real',
			`it fell by ${Math.round(-fell.changePct!)} % with: ${STEP_TITLES[fell.step].toLowerCase()}`
		);
	if (heard !== null && heard < MONITOR_CONTRADICTS)
		return answer('false', 'the independent monitor hears nothing of it');
	const tried = steps.filter((s) => s.step !== 'baseline' && s.changePct !== null);
	const missing = PROOF_STEPS.filter((s) => s !== 'baseline' && !tried.some((t) => t.step === s));
	if (missing.length)
		return answer('open', `still to do: ${missing.map((s) => STEP_TITLES[s].toLowerCase()).join('; ')}`);
	if (tried.every((s) => Math.abs(s.changePct!) <= 100 * UNCHANGED))
		return answer('false', 'it stayed the same within 15 % in all three steps');
	return answer(
		'unclear',
		'it neither fell by 30 % in a step nor stayed within 15 % in all: treated as real'
	);
}
