/** `fuel.lean`: is the believed mixture leaner than its target, or than is safe at all, while the engine is loaded? */
import type { Prepared } from '../../evidence/prepared.ts';
import { deviations, ONSET_S, type Deviation } from '../../evidence/lambda/deviation.ts';
import { stretches, type Run } from '../../stats/runs.ts';
import { runningMedian } from '../../stats/stats.ts';
import { rangesOf, regionOf, round } from '../ranges.ts';
import { check } from '../check.ts';
import { graded, type Finding, type Severity } from '../types.ts';
import { fixed, signed, plural } from '../../format.ts';

const SUSTAINED_S = 0.2;
const SMOOTH_S = 0.1;

const CAUSES = [
	'fuel pressure that sinks under load (filter, pump, regulator)',
	'the fuel table asks for too little there',
	'an injector of this bank that flows too little',
	'air leak behind the air meter, or a wrong air model',
	'an exhaust leak before the sensor, which reads lean'
];
const NEXT = [
	'no more full throttle until this is understood',
	'look at fuel pressure in the same stretch',
	'correct the table where the log shows it'
];

export const fuelLean = check({
	code: 'fuel.lean',
	title: 'Lean under load',
	section: 'mixture',
	leads: true,
	drawn: 'lambdaLeanBoosted',
	readiness: {
		item: 'Mixture under load',
		against: (_, p) => `at most ${p.leanWatchPct} % lean of target`
	},
	run(input) {
		const { believed, segments } = input;
		if (!input.frame.has('rpm'))
			return { outcome: 'not-checked', reason: 'engine speed is not logged', missing: 'rpm' };
		if (believed.banks.every((b) => b === null))
			return { outcome: 'not-checked', reason: 'no lambda reading is logged', missing: 'lambda' };
		if (segments.loaded.length === 0)
			return {
				outcome: 'not-checked',
				reason: 'the engine was never loaded in this log',
				missing: 'loaded driving'
			};
		const judged = deviations(input).map((t) => judgeBank(input, t));
		if (judged.every((j) => !j.any))
			return {
				outcome: 'not-checked',
				reason: 'no settled loaded stretch with a mixture reading and a target',
				missing: input.target.values ? 'loaded driving' : 'lambda.target'
			};
		const findings = merged(judged.flatMap((j) => (j.finding ? [j.finding] : [])));
		const leanest = judged.reduce((a, b) => (b.leanest > a.leanest ? b : a));
		const basis =
			input.target.from === 'none'
				? 'no target is known: a safe one stands in at full throttle'
				: `target from the ${input.target.from}`;
		if (findings.length === 0)
			return {
				outcome: 'pass',
				text: Number.isFinite(leanest.leanest)
					? `Leanest while loaded ${signed(leanest.leanest)} % of target (${basis}).`
					: 'No target is known; the mixture stays richer than is dangerous under this load.'
			};
		return { outcome: 'found', findings };
	}
});

interface Judged {
	any: boolean;
	leanest: number;
	finding: Finding | null;
}

function judgeBank(input: Prepared, trace: Deviation): Judged {
	const { frame, profile } = input;
	const width = Math.max(3, 2 * Math.floor(SMOOTH_S / frame.stepS / 2) + 1);
	const { loaded } = input.segments;
	const settled = runningMedian(trace.settled, width, loaded);
	const limits = { watch: profile.leanWatchPct, fix: profile.leanFixPct, stop: profile.leanStopPct };
	const over = (values: Float32Array, limit: number): Run[] =>
		stretches(frame, SUSTAINED_S, (i) => values[i]! > limit, 0, loaded);
	const level = sustained(settled, frame.stepS, loaded);
	const any = loaded.some((run) => {
		for (let i = run.from; i <= run.to; i++)
			if (settled[i] === settled[i] || trace.absolute[i] === trace.absolute[i]) return true;
		return false;
	});
	const lambdaOver = over(runningMedian(trace.absolute, width, loaded), 1);
	const bank = input.believed.banks.length > 1 && !input.believed.shared ? (trace.bank as 1 | 2) : undefined;
	const who = bank ? `bank ${bank}` : 'the mixture';
	let grade = graded(level, limits);
	let runs = grade ? over(settled, limits.watch) : [];
	let absolute = '';
	if (lambdaOver.length > 0) {
		const peak = highest(lambdaOver, trace.lambda);
		absolute = ` λ ${fixed(peak, 3)} is leaner than is safe under this load.`;
		if (grade?.severity !== 'stop') grade = { severity: 'stop', limit: grade?.limit ?? limits.watch };
		if (runs.length === 0) runs = lambdaOver;
	}
	const channels = [
		...(input.believed.sources[trace.bank - 1] ?? []).map((s) => s.channel),
		...(input.target.from === 'channel' ? ['lambda.target'] : []),
		'rpm',
		'map'
	].filter((id) => frame.has(id));
	if (grade) {
		const region = regionOf(runs, frame);
		const standIn = input.target.values ? '' : ' (no target is known; a safe one stands in)';
		const where = region.rpm ? ` between ${region.rpm[0]} and ${region.rpm[1]} rpm` : '';
		// Without a target there is no deviation; the absolute rule is judged on its own.
		const off = Number.isFinite(level);
		return {
			any,
			leanest: level,
			finding: {
				code: 'fuel.lean',
				severity: grade.severity,
				title: `${bank ? `Bank ${bank} lean` : 'Lean'} under load`,
				summary: off
					? `While loaded ${who} ran up to ${signed(level)} % of target${standIn}${where}.${absolute}`
					: `While loaded${where} ${who} ran lean, and no target is known.${absolute}`,
				value: round(off ? level : 100 * (highest(lambdaOver, trace.absolute) - 1), 2),
				limit: off ? grade.limit : 0,
				unit: '%',
				...(bank ? { bank } : {}),
				ranges: rangesOf(runs, frame.timeS),
				region,
				channels,
				causes: CAUSES,
				next: NEXT
			}
		};
	}
	const brief = over(runningMedian(trace.onset, 3, loaded), limits.stop);
	if (brief.length === 0) return { any, leanest: level, finding: null };
	const peak = highest(brief, trace.onset);
	return {
		any,
		leanest: level,
		finding: {
			code: 'fuel.lean',
			severity: 'watch',
			title: `Transient lean${bank ? `, bank ${bank}` : ''}`,
			summary: `Right after the throttle opened or after a shift ${who} was up to ${signed(peak)} % of target for less than ${ONSET_S} s, ${plural(brief.length, 'time')}.`,
			value: round(peak, 2),
			limit: limits.stop,
			unit: '%',
			...(bank ? { bank } : {}),
			ranges: rangesOf(brief, frame.timeS),
			region: regionOf(brief, frame),
			channels,
			causes: ['too little tip-in enrichment', 'wall film on a cold engine', 'a slow sensor'],
			next: ['leave it until the steady mixture is right, then look at the tip-in fuel']
		}
	};
}

/** Highest level that is held for 0.2 s: the maximum over all windows of that length of their lowest value. */
function sustained(values: Float32Array, stepS: number, within: readonly Run[]): number {
	const width = Math.max(1, Math.ceil(SUSTAINED_S / stepS - 1e-6));
	let best = -Infinity;
	for (const run of within)
		for (let i = run.from; i + width <= values.length && i <= run.to; i++) {
			let low = Infinity;
			for (let k = i; k < i + width; k++) {
				const v = values[k]!;
				if (!(v >= best)) {
					low = -Infinity; // a hole, or nothing that could beat what we have
					break;
				}
				if (v < low) low = v;
			}
			if (low > best) best = low;
		}
	return best;
}

function highest(runs: readonly Run[], values: Float32Array): number {
	let top = -Infinity;
	for (const r of runs) for (let i = r.from; i <= r.to; i++) if (values[i]! > top) top = values[i]!;
	return top;
}

const RANK: Record<Severity, number> = { stop: 0, fix: 1, watch: 2, note: 3 };
/** Banks closer together than this share one cause. */
const SAME_CAUSE_PCT = 2;

/** Both banks lean by the same amount is one finding, not two. */
function merged(findings: Finding[]): Finding[] {
	const [a, b] = findings;
	if (
		!a ||
		!b ||
		Math.abs(a.value! - b.value!) > SAME_CAUSE_PCT ||
		a.title.startsWith('Transient') !== b.title.startsWith('Transient')
	)
		return findings;
	const worse =
		RANK[a.severity] < RANK[b.severity] || (a.severity === b.severity && a.value! >= b.value!) ? a : b;
	const { bank: _, ...rest } = worse;
	return [
		{
			...rest,
			title: worse.title.startsWith('Transient')
				? 'Transient lean, both banks'
				: 'Both banks lean under load',
			summary: worse.summary.replace(/bank \d/, 'both banks'),
			channels: [...new Set([...a.channels, ...b.channels])],
			ranges: joined([...(a.ranges ?? []), ...(b.ranges ?? [])])
		}
	];
}

/** Overlapping ranges as one. */
function joined(ranges: { from: number; to: number }[]): { from: number; to: number }[] {
	const out: { from: number; to: number }[] = [];
	for (const r of ranges.sort((x, y) => x.from - y.from)) {
		const last = out[out.length - 1];
		if (last && r.from <= last.to) last.to = Math.max(last.to, r.to);
		else out.push({ ...r });
	}
	return out;
}
