/** `fuel.lean`: is the believed mixture leaner than its target, or than is safe at all, while the engine is loaded? */
import { ofBanks, whose, type OfBanks } from '../banks.ts';
import { finding, found, heldHigh, NEVER_LOADED, notChecked, pass } from '../measure.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import { deviations, ONSET_S, type Deviation } from '../../evidence/lambda/deviation.ts';
import { stretches, type Run } from '../../stats/runs.ts';
import { runningMedian } from '../../stats/stats.ts';
import { regionOf } from '../ranges.ts';
import { check, type Told } from '../check.ts';
import { grade, type Raised } from '../types.ts';
import { marked, plural, signed } from '../../format.ts';

const SUSTAINED_S = 0.2;
const SMOOTH_S = 0.1;
/** Banks closer together than this share one cause. */
const SAME_CAUSE_PCT = 2;

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

type Facts = OfBanks & {
	/** Leanest that was held, against the target; absent where no target is known. */
	offPct?: number;
	/** A safe target stood in for one that isn't known. */
	standIn?: boolean;
	/** Engine speeds of the stretches. */
	fromRpm?: number;
	toRpm?: number;
	/** Leaner than is safe under this load at all. */
	lambda?: number;
	/** In this log a step of this bank's mixture came with a cylinder's share of the pull: what is lean may be that as well. */
	dead?: boolean;
	/** Lean for moments only, after the throttle opened or a shift: how far, and how often. */
	onsetPct?: number;
	times?: number;
};

export const fuelLean = check({
	code: 'fuel.lean',
	title: 'Lean under load',
	section: 'mixture',
	leads: true,
	drawn: 'lambdaLeanBoosted',
	told: { fuel: { up: 'it ran lean there' } },
	readiness: {
		item: 'Mixture under load',
		against: (_, p) => `at most ${p.leanWatchPct} % lean of target`
	},
	units: { offPct: '%', fromRpm: 'rpm', toRpm: 'rpm', lambda: 'λ', onsetPct: '%', times: 'times' },
	run(input) {
		const { believed, segments } = input;
		if (!input.frame.has('rpm')) return notChecked('engine speed is not logged', 'rpm');
		if (believed.banks.every((b) => b === null)) return notChecked('no lambda reading is logged', 'lambda');
		if (segments.loaded.length === 0) return NEVER_LOADED;
		const judged = deviations(input).map((t) => judgeBank(input, t));
		if (judged.every((j) => !j.any))
			return notChecked(
				'no settled loaded stretch with a mixture reading and a target',
				input.target.values ? 'loaded driving' : 'lambda.target'
			);
		const findings = ofBanks(
			judged.flatMap((j) => j.finding ?? []),
			SAME_CAUSE_PCT,
			(a, b) => (a.onsetPct === undefined) === (b.onsetPct === undefined)
		);
		const leanest = judged.reduce((a, b) => (b.leanest > a.leanest ? b : a));
		const basis =
			input.target.from === 'none'
				? 'no target is known: a safe one stands in at full throttle'
				: `target from the ${input.target.from}`;
		if (findings.length === 0)
			return pass(
				Number.isFinite(leanest.leanest)
					? `Leanest while loaded ${signed(leanest.leanest)} % of target (${basis}).`
					: 'No target is known; the mixture stays richer than is dangerous under this load.'
			);
		return found(...findings);
	},
	words: (f: Told<Facts>) => {
		const { offPct, standIn, fromRpm, toRpm, lambda, onsetPct, times } = f.facts;
		const who = whose(f, 'the mixture');
		if (onsetPct !== undefined)
			return {
				title: f.facts.both
					? 'Transient lean, both banks'
					: `Transient lean${f.bank ? `, bank ${f.bank}` : ''}`,
				summary: `Right after the throttle opened or after a shift ${who} was up to ${signed(onsetPct)} % of target for less than ${ONSET_S} s, ${plural(times!, 'time')}.`,
				causes: ['too little tip-in enrichment', 'wall film on a cold engine', 'a slow sensor'],
				next: ['leave it until the steady mixture is right, then look at the tip-in fuel']
			};
		const where = fromRpm === undefined ? '' : ` between ${fromRpm} and ${toRpm} rpm`;
		const absolute =
			lambda === undefined ? '' : ` ${marked(lambda, 'λ', 3)} is leaner than is safe under this load.`;
		return {
			title: `${f.facts.both ? 'Both banks lean' : f.bank ? `Bank ${f.bank} lean` : 'Lean'}${f.facts.dead ? ', or a dead cylinder' : ' under load'}`,
			summary:
				offPct === undefined
					? `While loaded${where} ${who} ran lean, and no target is known.${absolute}`
					: `While loaded ${who} ran up to ${signed(offPct)} % of target${standIn ? ' (no target is known; a safe one stands in)' : ''}${where}.${absolute}`,
			causes: CAUSES,
			next: NEXT
		};
	}
});

interface Judged {
	any: boolean;
	leanest: number;
	finding: Raised<Facts> | null;
}

function judgeBank(input: Prepared, trace: Deviation): Judged {
	const { frame, profile } = input;
	const width = Math.max(3, 2 * Math.floor(SMOOTH_S / frame.stepS / 2) + 1);
	const { loaded } = input.segments;
	const settled = runningMedian(trace.settled, width, loaded);
	const limits = { watch: profile.leanWatchPct, fix: profile.leanFixPct, stop: profile.leanStopPct };
	const over = (values: Float32Array, limit: number): Run[] =>
		stretches(frame, SUSTAINED_S, (i) => values[i]! > limit, 0, loaded);
	const held = heldHigh(frame, settled, SUSTAINED_S, loaded);
	const level = held.at < 0 ? -Infinity : held.level;
	const any = loaded.some((run) => {
		for (let i = run.from; i <= run.to; i++)
			if (settled[i] === settled[i] || trace.absolute[i] === trace.absolute[i]) return true;
		return false;
	});
	const lambdaOver = over(runningMedian(trace.absolute, width, loaded), 1);
	const bank = input.believed.banks.length > 1 && !input.believed.shared ? (trace.bank as 1 | 2) : undefined;
	let graded = grade(level, limits);
	let runs = graded ? over(settled, limits.watch) : [];
	let lambda: number | undefined;
	if (lambdaOver.length > 0) {
		lambda = highest(lambdaOver, trace.lambda);
		if (graded?.severity !== 'stop') graded = { severity: 'stop', limit: graded?.limit ?? limits.watch };
		if (runs.length === 0) runs = lambdaOver;
	}
	const channels = [
		...(input.believed.sources[trace.bank - 1] ?? []).map((s) => s.channel),
		...(input.target.from === 'channel' ? ['lambda.target'] : []),
		'rpm',
		'map'
	];
	const whom = bank ? { bank } : {};
	if (graded) {
		const { rpm } = regionOf(runs, frame);
		// Without a target there is no deviation; the absolute rule is judged on its own.
		const off = Number.isFinite(level);
		return {
			any,
			leanest: level,
			finding: finding(input, {
				severity: graded.severity,
				facts: {
					...(off ? { offPct: level } : {}),
					...(off && !input.target.values ? { standIn: true } : {}),
					...(rpm ? { fromRpm: rpm[0], toRpm: rpm[1] } : {}),
					...(lambda === undefined ? {} : { lambda }),
					...(input.suspected.dead.some((d) => d.bank === trace.bank) ? { dead: true } : {})
				},
				value: off ? level : 100 * (highest(lambdaOver, trace.absolute) - 1),
				limit: off ? graded.limit : 0,
				unit: '%',
				...whom,
				runs,
				channels
			})
		};
	}
	const brief = over(runningMedian(trace.onset, 3, loaded), limits.stop);
	if (brief.length === 0) return { any, leanest: level, finding: null };
	const peak = highest(brief, trace.onset);
	return {
		any,
		leanest: level,
		finding: finding(input, {
			severity: 'watch',
			facts: { onsetPct: peak, times: brief.length },
			value: peak,
			limit: limits.stop,
			unit: '%',
			...whom,
			runs: brief,
			channels
		})
	};
}

function highest(runs: readonly Run[], values: Float32Array): number {
	let top = -Infinity;
	for (const r of runs) for (let i = r.from; i <= r.to; i++) if (values[i]! > top) top = values[i]!;
	return top;
}
