/** What a list shows of a screening, and what changed from one to the next: its verdict and the heads of its findings. Stored beside the report, so that no list reads reports. */
import type { CylinderLevels } from './cylinder-levels.ts';
import type { Levels } from './levels.ts';
import type { Report } from './report.ts';
import { findingKey, type Severity, type Verdict } from './types.ts';

export interface Brief {
	verdict: Verdict;
	/** All of them, the worst first; notes are the last. */
	findings: {
		key: string;
		code: string;
		title: string;
		severity: Severity;
		value: number | null;
		unit: string;
	}[];
	/** Codes of checks that could not be made. */
	unchecked: string[];
	/** Level of each item of the readiness sheet; missing in runs from before they were kept. */
	levels?: Levels;
	/** The same by cylinder, where the log knows them apart. */
	cylinders?: CylinderLevels[];
	/** Full-throttle pulls: where each begins, seconds into the log, and its gear where that is known. */
	pulls: { from: number; gear?: number }[];
}

/** What isn't a mere note. */
export const weighty = (brief: Brief): Brief['findings'] =>
	brief.findings.filter((f) => f.severity !== 'note');

export function briefOf(report: Report): Brief {
	return {
		verdict: report.verdict,
		findings: report.findings.map((f) => ({
			key: findingKey(f),
			code: f.code,
			// With its quantities marked: lists are read in units of choice as well.
			title: f.said?.title ?? f.title,
			severity: f.severity,
			value: f.value ?? null,
			unit: f.unit ?? ''
		})),
		unchecked: report.checks.filter((c) => c.outcome === 'not-checked').map((c) => c.code),
		pulls: report.segments
			.filter((s) => s.kind === 'pull')
			.map(({ from, gear }) => ({ from, ...(gear === undefined ? {} : { gear }) }))
	};
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
	const of = (brief: Brief) => new Map(weighty(brief).map((f) => [f.key, f]));
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

/** What still has to be dealt with, and how much of it there was in the log before, where it was there. */
export interface StillOpen {
	key: string;
	title: string;
	severity: Severity;
	value: number | null;
	before: number | null;
	unit: string;
}

/** Findings at stop and fix that nobody has answered. */
export function stillOpen(before: Brief | null, now: Brief, answered: ReadonlySet<string>): StillOpen[] {
	const was = new Map(before?.findings.map((f) => [f.key, f]));
	return now.findings
		.filter((f) => (f.severity === 'stop' || f.severity === 'fix') && !answered.has(f.key))
		.map(({ key, title, severity, value, unit }) => ({
			key,
			title,
			severity,
			value,
			before: was.get(key)?.value ?? null,
			unit
		}));
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
