/**
 * The proof protocol: is this knock real or false? One region, the same test repeated: baseline, mixture verified, timing two degrees
 * back (or richer), octane up, and the baseline again. Every fall is stated with its bounds from the scatter between pulls; only what
 * certainly stays the same through all of it may be called false. Rule and figures: common practice; the thresholds are defaults.
 */
import { fixed, list, marked, markedBy, plural } from '../../format.ts';
import { FLAG } from '../segments/kinds.ts';
import type { Prepared } from '../prepared.ts';
import type { ProofRegion } from './proof-region.ts';
import { ethanolPctOf, SAME_FUEL_POINTS } from '../ethanol.ts';
import { retardOf } from './episodes.ts';
import { upwardSteps } from './shape.ts';

export const PROOF_STEPS = ['baseline', 'mixture', 'timing', 'octane', 'again'] as const;
export type ProofStep = (typeof PROOF_STEPS)[number];

export const STEP_TITLES: Record<ProofStep, string> = {
	baseline: 'Baseline',
	mixture: 'Mixture verified',
	timing: 'Timing 2° back, or richer',
	octane: 'Octane up, at a third to a quarter of a tank',
	again: 'Baseline again'
};

export interface ProofMeasure {
	/** Integral of retard over time in the region per second loaded there, for each pull through it, in degrees: what is compared. */
	perPullDeg: number[];
	/** The same over all of the log. NaN where it wasn't driven. */
	meanRetardDeg: number;
	secondsLoaded: number;
	/** Mean intake air there, °C; NaN when it isn't logged. */
	intakeC: number;
	/** Mean engine speed and pressure there: equal driving means within 250 rpm and 5 kPa. */
	rpm: number;
	mapKpa: number;
	/** Ethanol in the tank, percent; `null` where nobody knows. */
	ethanolPct: number | null;
	/** Mean timing before knock and mean believed lambda there: whether a step reached the engine; NaN when not logged. */
	sparkBaseDeg: number;
	lambda: number;
	/** The retard stood at its own maximum for most of its time: it can't show a change. */
	saturated: boolean;
	/** An episode in the region climbs like a staircase. */
	staircase: boolean;
	/** Share of the retard's time that an independent monitor confirmed, 0–1; null without one, or where it was never heard alive. */
	monitor: number | null;
}

/** A fall by this much, certainly above zero, is real; all falls certainly under the other are none. */
const FALLS_PCT = 30;
const UNCHANGED_PCT = 25;
const SAME_RPM = 250;
const SAME_KPA = 5;
const SAME_INTAKE_C = 5;
const FEWEST_PULLS = 3;
/** A step of two degrees or of fuel has reached the engine when the log shows this much of it. */
const REACHED_DEG = 1.5;
const REACHED_RICHER_PCT = 3;
/** A monitor that confirms this much of the retard agrees with it; one that confirms less than the other contradicts it. */
const MONITOR_AGREES = 0.5;
const MONITOR_CONTRADICTS = 0.1;
/** A monitor that never moves by this much, idle noise included, may as well be off. */
const MONITOR_ALIVE = 2;

/** Measures one log in the region. @returns `null` when no knock channel or no pressure is logged */
export function proofMeasure(input: Prepared, region: ProofRegion): ProofMeasure | null {
	const { frame, segments, profile, believed } = input;
	const retard = retardOf(frame);
	const rpm = frame.get('rpm');
	const map = frame.get('map');
	if (!retard || !rpm || !map) return null;
	const monitorBounds = frame.bounds('knockMonitor');
	const alive = monitorBounds !== null && monitorBounds.max - monitorBounds.min >= MONITOR_ALIVE;
	const monitor = alive ? frame.get('knockMonitor') : null;
	const inside = (i: number) =>
		(segments.flags[i]! & FLAG.loaded) !== 0 &&
		rpm[i]! >= region.rpm[0] &&
		rpm[i]! <= region.rpm[1] &&
		map[i]! >= region.mapKpa[0] &&
		map[i]! <= region.mapKpa[1] &&
		retard[i] === retard[i];
	const samples: number[] = [];
	for (let i = 0; i < frame.length; i++) if (inside(i)) samples.push(i);
	const dt = frame.dtS;
	const mean = (values: Float32Array | null, of: readonly number[]): number => {
		let sum = 0;
		let time = 0;
		for (const i of of)
			if (values && values[i] === values[i]) {
				sum += values[i]! * dt[i]!;
				time += dt[i]!;
			}
		return time > 0 ? sum / time : Number.NaN;
	};
	const seconds = (of: readonly number[]) => of.reduce((s, i) => s + dt[i]!, 0);
	const top = samples.reduce((m, i) => Math.max(m, retard[i]!), 0);
	const pulled = samples.filter((i) => retard[i]! >= profile.knockEpisodeDeg);
	const heard = monitor ? pulled.filter((i) => monitor[i]! > profile.monitorLevel) : [];
	const atTop = samples.filter((i) => top > 0 && retard[i]! >= top - 1e-6);
	return {
		perPullDeg: segments.pulls
			.map((p) =>
				mean(
					retard,
					samples.filter((i) => i >= p.from && i <= p.to)
				)
			)
			.filter(Number.isFinite),
		meanRetardDeg: mean(retard, samples),
		secondsLoaded: seconds(samples),
		intakeC: mean(frame.get('iat'), samples),
		rpm: mean(rpm, samples),
		mapKpa: mean(map, samples),
		ethanolPct: ethanolPctOf(input),
		sparkBaseDeg: mean(frame.get('sparkBase'), samples),
		lambda: mean(believed.banks.find((b) => b !== null) ?? null, samples),
		saturated: pulled.length > 0 && seconds(atTop) > 0.5 * seconds(pulled),
		staircase: (input.knock ?? []).some(
			(e) => inside(e.peakAt) && upwardSteps(retard, frame.timeS, e.from, e.to) >= 2
		),
		monitor: monitor && pulled.length > 0 ? seconds(heard) / seconds(pulled) : null
	};
}

/** A fall against the baseline in percent, with its 95 % bounds. */
export interface Fall {
	pct: number;
	low: number;
	high: number;
}

export interface StepJudgement {
	step: ProofStep;
	/** Fall of the compared number against the baseline; null for the baseline and void steps. */
	fall: Fall | null;
	/** Why the step can't be compared; empty when it can. */
	void: string;
}

export interface ProofVerdict {
	verdict: 'real' | 'false' | 'unclear' | 'open';
	because: string;
	steps: StepJudgement[];
}

/**
 * Two-sided 95 % points of Student's t by degrees of freedom from 1 (NIST/SEMATECH e-Handbook of Statistical Methods, table 1.3.6.7.2);
 * the normal's beyond.
 */
const T95 = [
	12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228, 2.201, 2.179, 2.16, 2.145, 2.131,
	2.12, 2.11, 2.101, 2.093, 2.086, 2.08, 2.074, 2.069, 2.064, 2.06, 2.056, 2.052, 2.048, 2.045, 2.042
];

function momentsOf(values: readonly number[]) {
	const n = values.length;
	const mean = values.reduce((s, v) => s + v, 0) / n;
	const variance = values.reduce((s, v) => s + (v - mean) ** 2, 0) / Math.max(1, n - 1);
	return { n, mean, ofMean: variance / n };
}

/**
 * Fall from `before` to `after` in percent of the mean before, with 95 % bounds from the scatter of both (delta method, Student's t
 * with Welch's degrees of freedom). `fallOf([2, 2, 2], [1, 1, 1])` is 50, bounds 50 and 50.
 */
export function fallOf(before: readonly number[], after: readonly number[]): Fall {
	const a = momentsOf(before);
	const b = momentsOf(after);
	const ratio = b.mean / a.mean;
	const [va, vb] = [(ratio ** 2 * a.ofMean) / a.mean ** 2, b.ofMean / a.mean ** 2];
	const variance = va + vb;
	const freedom =
		variance > 0
			? variance ** 2 / (va ** 2 / Math.max(1, a.n - 1) + vb ** 2 / Math.max(1, b.n - 1))
			: Infinity;
	const t = T95[Math.max(1, Math.floor(freedom)) - 1] ?? 1.96;
	const half = t * Math.sqrt(variance);
	return { pct: 100 * (1 - ratio), low: 100 * (1 - ratio - half), high: 100 * (1 - ratio + half) };
}

function voidReason(step: ProofStep, baseline: ProofMeasure, m: ProofMeasure): string {
	const pulls = m.perPullDeg.length;
	if (!(m.secondsLoaded > 0)) return 'the region was not driven under load';
	if (pulls < FEWEST_PULLS) return `${plural(pulls, 'pull')} through the region, ${FEWEST_PULLS} are needed`;
	if (m.saturated) return 'the retard stands at its maximum and can show no change';
	if (m === baseline) return '';
	if (Math.abs(m.rpm - baseline.rpm) > SAME_RPM || Math.abs(m.mapKpa - baseline.mapKpa) > SAME_KPA)
		return `not the same driving: ${Math.round(m.rpm)} rpm and ${marked(m.mapKpa, 'kPa abs', 0)} on average, ${Math.round(baseline.rpm)} and ${marked(baseline.mapKpa, 'kPa abs')} in the baseline`;
	if (!Number.isFinite(m.intakeC) || !Number.isFinite(baseline.intakeC)) return 'intake air is not logged';
	if (Math.abs(m.intakeC - baseline.intakeC) > SAME_INTAKE_C)
		return `intake air ${marked(m.intakeC, '°C', 0)} against ${marked(baseline.intakeC, '°C', 0)} in the baseline`;
	return step === 'timing' ? unreached(baseline, m) : '';
}

/** Why the step of timing or fuel didn't reach the engine; empty when it did. */
function unreached(baseline: ProofMeasure, m: ProofMeasure): string {
	const back = baseline.sparkBaseDeg - m.sparkBaseDeg;
	const richer = 100 * (1 - m.lambda / baseline.lambda);
	if (back >= REACHED_DEG || richer >= REACHED_RICHER_PCT) return '';
	if (!Number.isFinite(back) && !Number.isFinite(richer))
		return 'neither base timing nor mixture is logged: nobody knows whether the step reached the engine';
	return `the step did not reach the engine: timing ${Number.isFinite(back) ? `${fixed(back, 1)}° back` : 'unknown'}, mixture ${Number.isFinite(richer) ? `${fixed(richer, 1)} % richer` : 'unknown'}`;
}

/** More pulls of a step than this aren't asked for. */
const MOST_PULLS_MORE = 6;

/** How many pulls of each kind would bring the bounds of a fall clear of the line that it is judged by; at least one more. */
function pullsMore(fall: Fall, pulls: number): number {
	const half = (fall.high - fall.low) / 2;
	const room = fall.pct >= FALLS_PCT ? fall.pct : Math.max(1, Math.abs(UNCHANGED_PCT - fall.pct));
	return Math.max(1, Math.ceil(pulls * (half / room) ** 2) - pulls);
}

/**
 * The verdict of the steps measured so far. *Real*: a fall that is certainly above zero and estimated at 30 % or more, a staircase, or a
 * monitor that agrees. *False*: certainly less than 25 % in all three, or a living monitor that contradicts, and the baseline came back.
 * Anything else with all steps done is unclear: treated as real, with how many pulls more would tell.
 */
export function proofVerdict(measures: Partial<Record<ProofStep, ProofMeasure>>): ProofVerdict {
	const { baseline, again } = measures;
	if (!baseline) return { verdict: 'open', because: 'the baseline is missing', steps: [] };
	const before = [
		...baseline.perPullDeg,
		...(again && voidReason('again', baseline, again) === '' ? again.perPullDeg : [])
	];
	const steps = PROOF_STEPS.flatMap((step): StepJudgement[] => {
		const m = measures[step];
		if (!m) return [];
		const reason = voidReason(step, baseline, m);
		const compared = step === 'again' ? baseline.perPullDeg : before;
		return [
			{ step, fall: reason || step === 'baseline' ? null : fallOf(compared, m.perPullDeg), void: reason }
		];
	});
	const answer = (verdict: ProofVerdict['verdict'], because: string): ProofVerdict => ({
		verdict,
		because,
		steps
	});
	if (!(baseline.meanRetardDeg > 0)) return answer('open', 'the baseline shows no retard in this region');
	const monitors = Object.values(measures).flatMap((m) => (m.monitor === null ? [] : [m.monitor]));
	const heard = monitors.length ? Math.max(...monitors) : null;
	if (heard !== null && heard >= MONITOR_AGREES)
		return answer('real', `the independent monitor hears ${Math.round(100 * heard)} % of it too`);
	if (baseline.staircase) return answer('real', 'it climbs like a staircase in the baseline');
	const voided = steps.find((s) => s.step === 'baseline' && s.void);
	if (voided) return answer('open', `the baseline can't be compared with: ${voided.void}`);
	const tried = steps.filter((s) => s.step !== 'baseline' && s.step !== 'again' && s.fall !== null);
	const fell = tried.find((s) => s.fall!.pct >= FALLS_PCT && s.fall!.low > 0);
	if (fell)
		return answer('real', `it fell by ${fallText(fell.fall!)} with: ${STEP_TITLES[fell.step].toLowerCase()}`);
	const back = steps.find((s) => s.step === 'again');
	if (back?.fall && (back.fall.low > 0 || back.fall.high < 0) && Math.abs(back.fall.pct) >= UNCHANGED_PCT)
		return answer(
			'open',
			`the baseline did not come back (${fallText(back.fall)} less): something else changed`
		);
	// Silence says something only beside a baseline that came back: a plug that fell off is as silent.
	if (heard !== null && heard < MONITOR_CONTRADICTS && !back?.fall)
		return answer('open', `the monitor hears nothing of it; still to do: ${STEP_TITLES.again.toLowerCase()}`);
	if (heard !== null && heard < MONITOR_CONTRADICTS)
		return answer('false', 'the independent monitor, alive elsewhere, hears nothing of it');
	const missing = PROOF_STEPS.filter(
		(s) => s !== 'baseline' && !steps.some((t) => t.step === s && t.fall !== null)
	);
	if (missing.length)
		return answer('open', `still to do: ${missing.map((s) => STEP_TITLES[s].toLowerCase()).join('; ')}`);
	if (tried.every((s) => s.fall!.high < UNCHANGED_PCT))
		return answer('false', `it certainly fell by less than ${UNCHANGED_PCT} % in all three steps`);
	const widest = Math.max(
		...tried.map((s) => pullsMore(s.fall!, Math.min(before.length, measures[s.step]!.perPullDeg.length)))
	);
	const undecided = 'it neither certainly fell nor certainly stayed: treated as real';
	return answer(
		'unclear',
		!(widest <= MOST_PULLS_MORE)
			? `${undecided}. Driving won't decide it: so rare a noise takes more of them than anybody should drive. An independent monitor, an ear at the engine, or the plugs would`
			: `${undecided}. About ${plural(widest, 'more pull')} of each step would tell`
	);
}

/** What a step that is still to be driven has to be like, so that it can be compared with the baseline; its quantities are marked. */
export function stepNeeds(baseline: ProofMeasure): string {
	const like = [
		...(Number.isFinite(baseline.rpm) ? [`${Math.round(baseline.rpm)} ± ${SAME_RPM} rpm`] : []),
		...(Number.isFinite(baseline.mapKpa)
			? [`${marked(baseline.mapKpa, 'kPa abs')} ± ${markedBy(SAME_KPA, 'kPa')}`]
			: []),
		...(Number.isFinite(baseline.intakeC)
			? [`intake air ${marked(baseline.intakeC, '°C')} ± ${markedBy(SAME_INTAKE_C, '°C')}`]
			: [])
	];
	return `${FEWEST_PULLS} pulls through the region at ${list(like)} on average`;
}

/** What a monitor beside the controller says of the retard of a step. */
export function monitorWords({ monitor }: ProofMeasure): string {
	if (monitor === null) return 'none, or not alive';
	const share = `hears ${Math.round(100 * monitor)} %`;
	return monitor >= MONITOR_AGREES
		? `${share}: agrees`
		: monitor < MONITOR_CONTRADICTS
			? `${share}: contradicts`
			: share;
}

/** `28 % (12 to 44)`. */
export const fallText = (f: Fall): string =>
	`${Math.round(f.pct)} % (${Math.round(f.low)} to ${Math.round(f.high)})`;

/** Knock that was proved false: where, and on which fuel. */
export interface FalseProof {
	region: ProofRegion;
	ethanolPct: number | null;
	/** Retard over the region when the proof began: what a later log is held against. */
	meanRetardDeg: number;
}

/** Whether a proof is of a place and a fuel: what it proved there says nothing of another place, or of another tank. */
export function provedAt(
	proof: FalseProof,
	place: { rpm?: readonly number[] | undefined; map?: readonly number[] | undefined } | undefined,
	ethanolPct: number | null
): boolean {
	const { region } = proof;
	const within = (of: readonly number[] | undefined, [low, high]: readonly [number, number], slack: number) =>
		of === undefined || (Math.min(...of) >= low - slack && Math.max(...of) <= high + slack);
	const fuel =
		proof.ethanolPct === ethanolPct ||
		(proof.ethanolPct !== null &&
			ethanolPct !== null &&
			Math.abs(proof.ethanolPct - ethanolPct) <= SAME_FUEL_POINTS);
	return fuel && within(place?.rpm, region.rpm, SAME_RPM) && within(place?.map, region.mapKpa, SAME_KPA);
}
