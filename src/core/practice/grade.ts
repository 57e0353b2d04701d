/** A trainee's own word on a log, held against what Tanto found and what is true. */
import type { Severity } from '../screening/types.ts';
import { subjectOf, subjectsIn, type SubjectId } from './subjects.ts';

export type Verdict = Severity | 'clear';

export interface Claim {
	subject: SubjectId;
	/** Bank or cylinder. */
	whom?: number | undefined;
}

export interface Line {
	subject: SubjectId;
	title: string;
	/** `hit`: it is there and was seen; `near`: seen, at another bank or cylinder; `missed`; `wrong`: it isn't there. */
	mark: 'hit' | 'near' | 'missed' | 'wrong';
	/** Whether Tanto's own screening says it. */
	tanto: boolean;
	/** What overlooking it would have cost; of a wrong one, why it isn't. */
	words: string;
}

export interface Grade {
	lines: Line[];
	/** The verdict of the log by its truth, that of Tanto, and the trainee's. */
	verdict: { own: Verdict; tanto: Verdict };
	hits: number;
	missed: number;
	wrong: number;
}

/**
 * @param truth what is hidden and to be seen in this log
 * @param report findings and verdict of the screening
 */
export function gradeOf(
	own: { verdict: Verdict; claims: readonly Claim[] },
	truth: readonly { subject: SubjectId; whom: number | null }[],
	report: { verdict: Verdict; findings: readonly { code: string; severity: string }[] }
): Grade {
	const tanto = new Set(subjectsIn(report.findings));
	const claimed = new Map(own.claims.map((c) => [c.subject, c]));
	const lines: Line[] = truth.map(({ subject, whom }) => {
		const claim = claimed.get(subject);
		const mark = !claim ? 'missed' : whom !== null && claim.whom !== whom ? 'near' : 'hit';
		const { title, cost } = subjectOf(subject);
		const words = mark === 'hit' ? 'seen' : mark === 'near' ? `it is number ${whom}` : `overlooked, ${cost}`;
		return { subject, title, mark, tanto: tanto.has(subject), words };
	});
	for (const { subject } of own.claims) {
		if (truth.some((t) => t.subject === subject)) continue;
		// What Tanto finds beside the planted fault is there too: a tail of it, or what the file itself is off by.
		const there = tanto.has(subject);
		lines.push({
			subject,
			title: subjectOf(subject).title,
			mark: there ? 'hit' : 'wrong',
			tanto: there,
			words: there ? 'seen, and Tanto sees it too' : 'it isn’t there'
		});
	}
	const count = (...marks: Line['mark'][]) => lines.filter((l) => marks.includes(l.mark)).length;
	return {
		lines,
		verdict: { own: own.verdict, tanto: report.verdict },
		hits: count('hit', 'near'),
		missed: count('missed'),
		wrong: count('wrong')
	};
}
