/** What a list shows of a screening: its verdict and the heads of its findings. Stored beside the report, so that no list reads reports. */
import type { Report } from './report.ts';
import { findingKey } from './sections.ts';
import type { Severity, Verdict } from './types.ts';

export interface Brief {
	verdict: Verdict;
	/** Findings but notes, the worst first. */
	findings: { key: string; code: string; title: string; severity: Severity }[];
	/** Codes of checks that could not be made. */
	unchecked: string[];
}

export function briefOf(report: Report): Brief {
	return {
		verdict: report.verdict,
		findings: report.findings
			.filter((f) => f.severity !== 'note')
			.map((f) => ({ key: findingKey(f), code: f.code, title: f.title, severity: f.severity })),
		unchecked: report.checks.filter((c) => c.outcome === 'not-checked').map((c) => c.code)
	};
}
