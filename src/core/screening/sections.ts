/** The order in which a practitioner reads a log: sections, each answering its question in one line. */
import type { CheckLine, Report } from './report.ts';
import { SEVERITIES, type Finding, type Severity } from './types.ts';

export const SECTIONS: readonly { id: string; title: string; question: string; codes: RegExp }[] = [
	{ id: 'fit', title: 'Fit to judge', question: 'Is the log fit to judge from?', codes: /^log\./ },
	{
		id: 'readiness',
		title: 'Readiness',
		question: 'Is the car ready?',
		codes: /^(temp\.|oil\.|volt\.|idle\.|trim\.level|controller\.)/
	},
	{ id: 'sensors', title: 'Sensors', question: 'Which sensors can be believed?', codes: /^sensor\./ },
	{
		id: 'mixture',
		title: 'Mixture',
		question: 'Is the mixture where it should be?',
		codes: /^(fuel\.|trim\.limit|air\.model|table\.range|misfire)/
	},
	{ id: 'banks', title: 'Banks', question: 'Do the banks agree?', codes: /^bank\./ },
	{ id: 'cylinders', title: 'Cylinders', question: 'Does a cylinder stand out?', codes: /^cyl\./ },
	{ id: 'knock', title: 'Knock', question: 'Does it knock?', codes: /^knock\./ },
	{
		id: 'supply',
		title: 'Injectors and supply',
		question: 'Is there enough fuel?',
		codes: /^(inj\.|supply\.|rpm\.limit)/
	},
	{
		id: 'air',
		title: 'Boost and throttle',
		question: 'Does the air arrive?',
		codes: /^(boost\.|throttle\.)/
	},
	{
		id: 'drivetrain',
		title: 'Drivetrain',
		question: 'Do gears and cams do as told?',
		codes: /^(shift\.|traction|cam\.)/
	},
	{ id: 'nitrous', title: 'Nitrous', question: 'Does the nitrous have its fuel?', codes: /^nitrous\./ }
];

export interface SectionView {
	id: string;
	title: string;
	question: string;
	/** Worst severity, `pass`, or `not-checked` when nothing could be said. */
	state: Severity | 'pass' | 'not-checked';
	/** The answer in one line. */
	answer: string;
	findings: { finding: Finding; index: number }[];
	passed: CheckLine[];
	/** Not checked, by what is missing. */
	missing: { what: string; reason: string; codes: string[] }[];
}

function answerOf(
	findings: readonly Finding[],
	passed: readonly CheckLine[],
	missing: SectionView['missing']
): string {
	if (findings[0])
		return findings[0].title + (findings.length > 1 ? `, and ${findings.length - 1} more` : '');
	if (passed[0]) return passed[0].reason ?? 'Nothing found.';
	return missing[0] ? `Not checked: ${missing[0].reason}` : 'Not checked.';
}

/** @returns sections in reading order; findings keep their index in the report */
export function sectionsOf(report: Report): SectionView[] {
	return SECTIONS.map(({ id, title, question, codes }) => {
		const findings = report.findings.flatMap((finding, index) =>
			codes.test(finding.code) ? [{ finding, index }] : []
		);
		const checks = report.checks.filter((c) => codes.test(c.code));
		const passed = checks.filter((c) => c.outcome === 'pass');
		const missing: SectionView['missing'] = [];
		for (const c of checks) {
			if (c.outcome !== 'not-checked') continue;
			const what = c.missing ?? 'something';
			const there = missing.find((m) => m.what === what);
			if (there) there.codes.push(c.code);
			else missing.push({ what, reason: c.reason ?? '', codes: [c.code] });
		}
		const worst = SEVERITIES.find((s) => findings.some((f) => f.finding.severity === s));
		return {
			id,
			title,
			question,
			state: worst ?? (passed.length ? 'pass' : 'not-checked'),
			answer: answerOf(
				findings.map((f) => f.finding),
				passed,
				missing
			),
			findings,
			passed,
			missing
		};
	});
}

/** What makes a finding the same one in another log: its code and whom it is about. */
export function findingKey(f: Pick<Finding, 'code' | 'bank' | 'cylinder'>): string {
	return [f.code, f.bank ? `b${f.bank}` : '', f.cylinder ? `c${f.cylinder}` : ''].filter(Boolean).join(' ');
}

export interface Change {
	key: string;
	title: string;
	before: Severity | null;
	now: Severity | null;
}

/** What is different from the log before: come, gone, better, worse. Notes don't count. */
export function changesBetween(before: Report, now: Report): Change[] {
	const of = (r: Report) =>
		new Map(r.findings.filter((f) => f.severity !== 'note').map((f) => [findingKey(f), f]));
	const [a, b] = [of(before), of(now)];
	const out: Change[] = [];
	for (const [key, f] of b) {
		const was = a.get(key);
		if (!was || was.severity !== f.severity)
			out.push({ key, title: f.title, before: was?.severity ?? null, now: f.severity });
	}
	for (const [key, f] of a) if (!b.has(key)) out.push({ key, title: f.title, before: f.severity, now: null });
	return out;
}
