/** `log.coverage`: are the manoeuvres of the drive plan in the log, and was more driven than was asked for? */
import { finding, found, notChecked, pass } from '../measure.ts';
import { FLAG, type Segment } from '../../evidence/segments/kinds.ts';
import type { Prepared } from '../../evidence/prepared.ts';
import type { LogRequest } from '../../request.ts';
import { check, type Told } from '../check.ts';
import { beyondPlan } from '../beyond-plan.ts';
import { factsOf, type CheckResult } from '../types.ts';
import { list } from '../../format.ts';

type Manoeuvre = NonNullable<LogRequest['manoeuvres']>[number];

const WORDS: Record<Manoeuvre['kind'], string> = {
	idle: 'idle',
	cruise: 'steady cruise',
	light: 'a light acceleration',
	medium: 'a medium acceleration',
	pull: 'a full-throttle pull',
	start: 'the start of the engine',
	symptom: 'the problem itself'
};

/** What is missing of a manoeuvre, in words; `null` when it is there. Only a person can tell a symptom. */
function missing(m: Manoeuvre, { segments, frame }: Prepared): string | null {
	if (m.kind === 'symptom') return null;
	if (m.kind === 'start') return segments.flags.some((f) => f & FLAG.start) ? null : WORDS.start;
	const rpm = frame.get('rpm');
	const fits = (s: Segment) => {
		if (m.minDurationS !== undefined && s.toS - s.fromS < m.minDurationS - frame.stepS) return false;
		if (m.rpm && rpm && !(rpm[s.from]! <= m.rpm[0] * 1.1 && rpm[s.to]! >= m.rpm[1] * 0.95)) return false;
		return true;
	};
	const there = segments.list.filter((s) => s.kind === m.kind && fits(s));
	const gears = m.gears ?? (m.gear === undefined ? [] : [m.gear]);
	const detail = [
		...(m.minDurationS ? [`of ${m.minDurationS} s`] : []),
		...(m.rpm ? [`from ${m.rpm[0]} to ${m.rpm[1]} rpm`] : [])
	].join(' ');
	const word = `${WORDS[m.kind]}${detail ? ` ${detail}` : ''}`;
	// A log that can't tell gears isn't blamed for the wrong one.
	if (gears.length && segments.gear) {
		const absent = gears.filter((g) => there.filter((s) => s.gear === g).length < (m.count ?? 1));
		return absent.length ? `${word} in gear ${list(absent.map(String))}` : null;
	}
	const count = m.count ?? 1;
	if (there.length >= count) return null;
	return count > 1 ? `${word} (${there.length} of ${count})` : word;
}

type Facts = { absent?: string[]; noPull?: boolean; beyond?: string[] };

export const logCoverage = check({
	code: 'log.coverage',
	title: 'What was driven',
	section: 'fit',
	advice: 'log',
	units: {},
	plain: (f) => {
		const { absent = [], beyond } = factsOf<Facts>(f);
		return beyond
			? `You drove more than was asked for: ${list(beyond)}. Please drive only what the plan asks: the limits in it are there for your engine.`
			: `Not in this log: ${list(absent)}. Drive what is missing, and record it.`;
	},
	run(input): CheckResult<Facts> {
		const wanted = input.request?.manoeuvres ?? [];
		if (wanted.length === 0) return notChecked('no drive plan was given for this log', 'a drive plan');
		const absent = wanted.flatMap((m) => {
			const what = missing(m, input);
			return what ? [{ m, what }] : [];
		});
		const beyond = beyondPlan(input);
		if (absent.length === 0 && beyond.length === 0)
			return pass(`All ${wanted.length} manoeuvres of the drive plan are in the log, and nothing beyond it.`);
		const noPull = absent.some((a) => a.m.kind === 'pull') && input.segments.pulls.length === 0;
		const about = (facts: Facts, n: number) => ({
			facts,
			value: n,
			limit: 0,
			unit: 'manoeuvres',
			channels: ['rpm', 'tps', 'pedal', 'speed']
		});
		return found(
			...(absent.length
				? [
						finding(input, {
							...about({ absent: absent.map((a) => a.what), noPull }, absent.length),
							severity: noPull ? ('fix' as const) : ('watch' as const)
						})
					]
				: []),
			...(beyond.length
				? [
						finding(input, {
							...about({ beyond: beyond.map((b) => b.what) }, beyond.length),
							kind: 'beyond',
							severity: 'watch' as const,
							runs: beyond.flatMap((b) => b.runs)
						})
					]
				: [])
		);
	},
	words: ({ facts: { absent = [], noPull, beyond } }: Told<Facts>) =>
		beyond
			? {
					title: 'Driven beyond the plan',
					summary: `More than was asked for: ${list(beyond)}.`,
					causes: ['the plan was not read to its end', 'the engine felt good'],
					next: [
						'tell the customer what the plan’s limits are for',
						'look at what was driven beyond them first'
					]
				}
			: {
					title: noPull
						? 'No full-throttle pull, though one was asked for'
						: 'Not everything that was asked for was driven',
					summary: `Missing from this log: ${list(absent)}.`,
					causes: ['the recording was stopped early', 'traffic or weather did not allow it'],
					next: ['ask for another log with what is missing']
				}
});
