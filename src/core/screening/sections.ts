/** The order in which a practitioner reads a log: sections, each answering its question in one line. */
import type { CheckLine, Report } from './report.ts';
import type { Brief } from './brief.ts';
import { SEVERITIES, type Finding, type Severity } from './types.ts';

export const SECTIONS: readonly {
	id: string;
	title: string;
	question: string;
	codes: RegExp;
	/** The checks that answer the question: where none of them was made, no side remark makes it a pass. */
	leading?: RegExp;
}[] = [
	{ id: 'fit', title: 'Fit to judge', question: 'Is the log fit to judge from?', codes: /^log\./ },
	{
		id: 'readiness',
		title: 'Readiness',
		question: 'Is the car ready?',
		codes: /^(temp\.|oil\.|volt\.|idle\.|trim\.level|controller\.)/
	},
	{
		id: 'sensors',
		title: 'Sensors',
		question: 'Which sensors can be believed?',
		codes: /^sensor\./,
		leading: /^sensor\.lambda$/
	},
	{
		id: 'mixture',
		title: 'Mixture',
		question: 'Is the mixture where it should be?',
		codes: /^(fuel\.|trim\.(limit|reset)|air\.model|table\.range|misfire)/,
		leading: /^fuel\.lean$/
	},
	{
		id: 'banks',
		title: 'Banks',
		question: 'Do the banks agree?',
		codes: /^bank\./,
		leading: /^bank\.mismatch$/
	},
	{
		id: 'cylinders',
		title: 'Cylinders',
		question: 'Does a cylinder stand out?',
		codes: /^cyl\./,
		leading: /^cyl\.(lambda|knock|egt)$/
	},
	{
		id: 'knock',
		title: 'Knock',
		question: 'Does it knock?',
		codes: /^knock\./,
		leading: /^knock\.(real|unclear)$/
	},
	{
		id: 'supply',
		title: 'Injectors and supply',
		question: 'Is there enough fuel?',
		codes: /^(inj\.|supply\.|rpm\.limit)/,
		leading: /^(inj\.duty|supply\.)/
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
	passed: CheckLine | undefined,
	unchecked: CheckLine | undefined
): string {
	if (findings[0])
		return findings[0].title + (findings.length > 1 ? `, and ${findings.length - 1} more` : '');
	if (passed) return passed.reason ?? 'Nothing found.';
	return unchecked?.reason ? `Not checked: ${unchecked.reason}` : 'Not checked.';
}

/** @returns sections in reading order; findings keep their index in the report */
export function sectionsOf(report: Report): SectionView[] {
	return SECTIONS.map(({ id, title, question, codes, leading = codes }) => {
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
		const answers = checks.filter((c) => leading.test(c.code));
		const answered = answers.find((c) => c.outcome === 'pass');
		const worst = SEVERITIES.find((s) => findings.some((f) => f.finding.severity === s));
		return {
			id,
			title,
			question,
			state: worst ?? (answered ? 'pass' : 'not-checked'),
			answer: answerOf(
				findings.map((f) => f.finding),
				answered,
				answers.find((c) => c.outcome === 'not-checked')
			),
			findings,
			passed,
			missing
		};
	});
}

/** What makes a finding the same one in another log: its code, what of it, and whom it is about. One of a kind in a report. */
export function findingKey(f: Pick<Finding, 'code' | 'kind' | 'bank' | 'cylinder'>): string {
	return [f.code, f.kind ?? '', f.bank ? `b${f.bank}` : '', f.cylinder ? `c${f.cylinder}` : '']
		.filter(Boolean)
		.join(' ');
}

export interface Change {
	key: string;
	title: string;
	before: Severity | null;
	now: Severity | null;
	/** No finding any more only because its check could not be made this time. */
	unchecked: boolean;
}

/** What is different from the log before: come, gone, no longer checked, better, worse. Notes don't count. */
export function changesBetween(before: Brief, now: Brief): Change[] {
	const of = (brief: Brief) => new Map(brief.findings.map((f) => [f.key, f]));
	const [a, b] = [of(before), of(now)];
	const out: Change[] = [];
	for (const [key, f] of b) {
		const was = a.get(key);
		if (!was || was.severity !== f.severity)
			out.push({ key, title: f.title, before: was?.severity ?? null, now: f.severity, unchecked: false });
	}
	const unmade = new Set(now.unchecked);
	for (const [key, f] of a)
		if (!b.has(key))
			out.push({ key, title: f.title, before: f.severity, now: null, unchecked: unmade.has(f.code) });
	return out;
}

/** The same in words: worst news first. */
export function changesInWords(changes: readonly Change[]): string {
	const of = (word: string, list: readonly Change[], text = (c: Change) => c.title) =>
		list.length ? [`${word}: ${list.map(text).join(', ')}`] : [];
	const both = changes.filter((c) => c.before && c.now);
	return [
		...of(
			'new',
			changes.filter((c) => !c.before)
		),
		...of('changed', both, (c) => `${c.title} (${c.before} → ${c.now})`),
		...of(
			'not checked this time',
			changes.filter((c) => !c.now && c.unchecked)
		),
		...of(
			'gone',
			changes.filter((c) => !c.now && !c.unchecked)
		)
	].join('; ');
}
