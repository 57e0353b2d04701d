/** Screens a log: runs the checks over it and gathers the report. */
import { prepare, type LogContext } from '../evidence/prepare.ts';
import type { Prepared } from '../evidence/prepared.ts';
import type { Log } from '../logfile/log.ts';
import { hasQuantities, plain } from '../format.ts';
import { settleCauses } from './causes.ts';
import { CHECKS, CODES } from './codes.ts';
import { round } from './ranges.ts';
import type { Report } from './report.ts';
import { findingKey, rank, worst, type Finding, type Verdict } from './types.ts';

/** Stands in every stored run; raised whenever a check may answer differently. */
export const CHECKS_VERSION = 9;

export function screenPrepared(input: Prepared): Report {
	const raised: Finding[] = [];
	const checks = CHECKS.map((check): Report['checks'][number] => {
		const { code } = check;
		const result = check.run(input);
		if (result.outcome === 'found') {
			raised.push(...result.findings);
			return { code, outcome: 'found', ...(result.text ? { reason: result.text } : {}) };
		}
		return result.outcome === 'pass'
			? { code, outcome: 'pass', reason: result.text }
			: { code, outcome: 'not-checked', reason: result.reason, missing: result.missing };
	});
	const findings = settleCauses(oneOfAKind(raised), input.profile);
	const top = worst(findings.map((f) => f.severity));
	const verdict: Verdict = top === null || top === 'note' ? 'clear' : top;
	const order = new Map<string, number>(CODES.map((c, i) => [c, i]));
	findings.sort((a, b) => rank(a.severity) - rank(b.severity) || order.get(a.code)! - order.get(b.code)!);
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

/** The words in canonical units; where a quantity stands in them, the same with it marked beside, for a reader with other units. */
function spoken(f: Finding): Finding {
	const said = hasQuantities(f.title + f.summary) ? { said: { title: f.title, summary: f.summary } } : {};
	return {
		...f,
		title: plain(f.title),
		summary: plain(f.summary),
		causes: f.causes.map(plain),
		next: f.next.map(plain),
		...said
	};
}

function spokenCheck(c: Report['checks'][number]): Report['checks'][number] {
	return c.reason === undefined || !hasQuantities(c.reason)
		? c
		: { ...c, reason: plain(c.reason), said: c.reason };
}

/**
 * Gives each finding its id, and its value and limit as facts. Two of one check about one subject get kinds of their own: answers and
 * holds hang on the id.
 */
function oneOfAKind(findings: readonly Finding[]): Finding[] {
	const seen = new Map<string, number>();
	return findings.map((raised) => {
		const key = findingKey(raised);
		const n = (seen.get(key) ?? 0) + 1;
		seen.set(key, n);
		const f = n === 1 ? raised : { ...raised, kind: `${raised.kind ?? ''}${n}` };
		const unit = f.unit === undefined ? {} : { unit: f.unit };
		return {
			...f,
			id: findingKey(f),
			facts: {
				...(f.value === undefined ? {} : { value: { value: f.value, ...unit } }),
				...(f.limit === undefined ? {} : { limit: { value: f.limit, ...unit } }),
				...f.facts
			}
		};
	});
}

export function screen(log: Log, context: LogContext): Report {
	return screenPrepared(prepare(log, context));
}
