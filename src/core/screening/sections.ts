/** The order in which a practitioner reads a log: sections, each answering its question in one line. */
import type { CheckLine, Report } from './report.ts';
import type { LaneId, SectionId } from './check.ts';
import { checkOf, type CheckCode } from './codes.ts';
import type { Profile } from '../limits/profile.ts';
import { SEVERITIES, type Finding, type Severity } from './types.ts';

export const SECTIONS: readonly { id: SectionId; title: string; question: string; lane: LaneId }[] = [
	{ id: 'fit', title: 'Fit to judge', question: 'Is the log fit to judge from?', lane: 'mixture' },
	{ id: 'readiness', title: 'Readiness', question: 'Is the car ready?', lane: 'air' },
	{ id: 'sensors', title: 'Sensors', question: 'Which sensors can be believed?', lane: 'mixture' },
	{ id: 'mixture', title: 'Mixture', question: 'Is the mixture where it should be?', lane: 'mixture' },
	{ id: 'banks', title: 'Banks', question: 'Do the banks agree?', lane: 'mixture' },
	{ id: 'cylinders', title: 'Cylinders', question: 'Does a cylinder stand out?', lane: 'mixture' },
	{ id: 'knock', title: 'Knock', question: 'Does it knock?', lane: 'knock' },
	{ id: 'supply', title: 'Injectors and supply', question: 'Is there enough fuel?', lane: 'supply' },
	{ id: 'air', title: 'Boost and throttle', question: 'Does the air arrive?', lane: 'air' },
	{ id: 'drivetrain', title: 'Drivetrain', question: 'Do gears and cams do as told?', lane: 'air' },
	{ id: 'nitrous', title: 'Nitrous', question: 'Does the nitrous have its fuel?', lane: 'mixture' }
];

/** What a page draws to a finding: its traces, and the limit that stands in them. */
export interface Shown {
	lane: LaneId;
	drawn: keyof Profile | null;
}

/** How each code of a report is shown. Codes that nobody knows any more show the mixture. */
export function shownOf(report: Report): Record<string, Shown> {
	return Object.fromEntries(
		report.findings.map(({ code }): [string, Shown] => {
			const check = checkOf(code);
			const section = SECTIONS.find((s) => s.id === check?.section);
			return [code, { lane: check?.lane ?? section?.lane ?? 'mixture', drawn: check?.drawn ?? null }];
		})
	);
}

export interface SectionView {
	id: SectionId;
	title: string;
	question: string;
	/** Worst severity, `pass`, or `not-checked` when nothing could be said. */
	state: Severity | 'pass' | 'not-checked';
	/** The answer in one line. */
	answer: string;
	findings: { finding: Finding; index: number }[];
	passed: { title: string; reason: string }[];
	/** Not checked, by what is missing; titles of the checks that wait for it. */
	missing: { what: string; reason: string; titles: string[] }[];
}

function answerOf(
	findings: readonly Finding[],
	passed: CheckLine | undefined,
	unchecked: CheckLine | undefined
): string {
	if (findings[0])
		return (
			(findings[0].said?.title ?? findings[0].title) +
			(findings.length > 1 ? `, and ${findings.length - 1} more` : '')
		);
	if (passed) return passed.said ?? passed.reason ?? 'Nothing found.';
	return unchecked?.reason ? `Not checked: ${unchecked.said ?? unchecked.reason}` : 'Not checked.';
}

/** @returns sections in reading order; findings keep their index in the report */
export function sectionsOf(report: Report): SectionView[] {
	return SECTIONS.map(({ id, title, question }) => {
		const mine = (code: string) => checkOf(code)?.section === id;
		const findings = report.findings.flatMap((finding, index) =>
			mine(finding.code) ? [{ finding, index }] : []
		);
		const checks = report.checks.filter((c) => mine(c.code));
		const passed = checks.filter((c) => c.outcome === 'pass');
		const missing: SectionView['missing'] = [];
		for (const c of checks) {
			if (c.outcome !== 'not-checked') continue;
			const what = c.missing ?? 'something';
			const there = missing.find((m) => m.what === what);
			if (there) there.titles.push(checkOf(c.code)!.title);
			else missing.push({ what, reason: c.said ?? c.reason ?? '', titles: [checkOf(c.code)!.title] });
		}
		const leading = checks.some((c) => checkOf(c.code)!.leads)
			? checks.filter((c) => checkOf(c.code)!.leads)
			: checks;
		const answered = leading.find((c) => c.outcome === 'pass');
		const worst = SEVERITIES.find((s) => findings.some((f) => f.finding.severity === s));
		return {
			id,
			title,
			question,
			// A note says nothing of what nobody looked at.
			state: worst && (worst !== 'note' || answered) ? worst : answered ? 'pass' : 'not-checked',
			answer: answerOf(
				findings.map((f) => f.finding),
				answered,
				leading.find((c) => c.outcome === 'not-checked')
			),
			findings,
			passed: passed.map((c) => ({ title: checkOf(c.code)!.title, reason: c.said ?? c.reason ?? '' })),
			missing
		};
	});
}

/** What the checks of one subject say: findings, then what held and what could not be checked, each reason once. */
export interface SubjectOutcome {
	findings: Finding[];
	lines: { outcome: 'pass' | 'not-checked'; reason: string; titles: string[] }[];
}

/** @param also single checks beside those of the sections */
export function saidOf(
	report: Report,
	sections: readonly SectionId[],
	also: readonly CheckCode[] = []
): SubjectOutcome {
	const about = (code: string) => {
		const check = checkOf(code);
		return check !== null && (sections.includes(check.section) || also.some((c) => c === code));
	};
	const lines: SubjectOutcome['lines'] = [];
	for (const { code, outcome, said, reason: plain = '' } of report.checks) {
		if (outcome === 'found' || !about(code)) continue;
		const reason = said ?? plain;
		const { title } = checkOf(code)!;
		const same = lines.find((l) => l.outcome === outcome && l.reason === reason);
		if (same) same.titles.push(title);
		else lines.push({ outcome, reason, titles: [title] });
	}
	return { findings: report.findings.filter((f) => about(f.code)), lines };
}
