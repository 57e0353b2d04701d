/** Screens a log: runs the checks over it and gathers the report. */
import { prepare, type LogContext } from '../evidence/prepare.ts';
import type { Prepared } from '../evidence/prepared.ts';
import type { Log } from '../logfile/log.ts';
import { hasQuantities, plain } from '../format.ts';
import { settleCauses } from './causes.ts';
import { checkOf, CHECKS, CODES, doubts } from './codes.ts';
import { round } from './ranges.ts';
import type { Report } from './report.ts';
import type { Check, SectionId } from './check.ts';
import { findingKey, rank, worst, type Finding, type Raised, type Verdict, type Wordless } from './types.ts';
import { wordsOf } from './words.ts';

export function screenPrepared(input: Prepared): Report {
	const raised: Wordless[] = [];
	const checks = CHECKS.map((check): Report['checks'][number] => {
		const { code } = check;
		const result = check.run(input);
		if (result.outcome === 'found') {
			raised.push(...result.findings.map((f) => reported(check, f)));
			return { code, outcome: 'found' };
		}
		return result.outcome === 'pass'
			? { code, outcome: 'pass', reason: result.text }
			: { code, outcome: 'not-checked', reason: result.reason, missing: result.missing };
	});
	const findings = settleCauses(oneOfAKind(raised), input.profile);
	const top = worst(findings.map((f) => f.severity));
	const verdict: Verdict = top === null || top === 'note' ? 'clear' : top;
	findings.sort(byDanger);
	const { log } = input;
	return {
		schema: 'tanto.screen/1',
		log: {
			rows: log.rows,
			durationS: round(log.durationS, 3),
			channels: log.channels.map((c) => ({
				id: c.id,
				raw: c.raw,
				unit: c.unit,
				rateHz: c.rateHz,
				...(c.note ? { note: c.note } : {})
			})),
			unmapped: log.unmapped.filter((u) => !u.private).map((u) => u.raw),
			notes: log.notes
		},
		verdict,
		findings: findings.map(spoken),
		checks: checks.map(spokenCheck),
		segments: input.segments.list.map((s) => ({
			kind: s.kind,
			from: round(s.fromS, 3),
			to: round(s.toS, 3),
			...(s.gear ? { gear: s.gear } : {})
		}))
	};
}

/** What hurts an engine first comes first: knock before a lean spot, both before a channel that is missing. */
const DANGER: readonly SectionId[] = [
	'knock',
	'mixture',
	'banks',
	'cylinders',
	'readiness',
	'supply',
	'air',
	'sensors',
	'nitrous',
	'drivetrain',
	'fit'
];
const order = new Map<string, number>(CODES.map((c, i) => [c, i]));

/** The order of a report: by severity; within it what takes the ground from all the rest (another car, another file), then by danger. */
function byDanger(a: Wordless, b: Wordless): number {
	const place = ({ code }: Wordless) =>
		doubts(code, 'everything') || doubts(code, 'revision') ? -1 : DANGER.indexOf(checkOf(code)!.section);
	return (
		rank(a.severity) - rank(b.severity) || place(a) - place(b) || order.get(a.code)! - order.get(b.code)!
	);
}

/** With its words, in canonical units; where a quantity stands in them, the same with it marked beside, for a reader with other units. */
function spoken(f: Wordless): Finding {
	const { title, summary, causes, next } = wordsOf(f);
	const said = hasQuantities(title + summary) ? { said: { title, summary } } : {};
	return {
		...f,
		title: plain(title),
		summary: plain(summary),
		causes: causes.map(plain),
		next: next.map(plain),
		...said
	};
}

function spokenCheck(c: Report['checks'][number]): Report['checks'][number] {
	return c.reason === undefined || !hasQuantities(c.reason)
		? c
		: { ...c, reason: plain(c.reason), said: c.reason };
}

/** A raised finding as the report carries it, but for its words and its id: value and limit are among its facts, each number has its unit. */
function reported(check: Check, raised: Raised): Wordless {
	const unit = raised.unit === undefined ? {} : { unit: raised.unit };
	const units: Record<string, string> = check.units;
	const facts = Object.entries(raised.facts).map(([name, value]) => [
		name,
		{ value, ...(units[name] ? { unit: units[name] } : {}) }
	]);
	return {
		...raised,
		code: check.code,
		facts: {
			...(raised.value === undefined ? {} : { value: { value: raised.value, ...unit } }),
			...(raised.limit === undefined ? {} : { limit: { value: raised.limit, ...unit } }),
			...Object.fromEntries(facts)
		}
	};
}

/** Gives each finding its id. Two of one check about one subject get kinds of their own: answers and holds hang on the id. */
function oneOfAKind(findings: readonly Wordless[]): Wordless[] {
	const seen = new Map<string, number>();
	return findings.map((raised) => {
		const key = findingKey(raised);
		const n = (seen.get(key) ?? 0) + 1;
		seen.set(key, n);
		const f = n === 1 ? raised : { ...raised, kind: `${raised.kind ?? ''}${n}` };
		return { ...f, id: findingKey(f) };
	});
}

export function screen(log: Log, context: LogContext): Report {
	return screenPrepared(prepare(log, context));
}
