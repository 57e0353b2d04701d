/** What the tabs of a log carry: the worst of the findings that each page explains. */
import { checkOf } from './codes.ts';
import { LOG_PAGES, type LogPage, type LogPagePath } from './log-pages.ts';
import { SEVERITIES, type Severity } from './types.ts';

/** By the path of the page; pages without a finding, or with notes only, are missing. */
export function worstByPage(
	findings: readonly { code: string; severity: Severity }[]
): Partial<Record<LogPagePath, Severity>> {
	const worst: Partial<Record<LogPagePath, Severity>> = {};
	for (const page of LOG_PAGES as readonly (LogPage & { path: LogPagePath })[]) {
		const about = findings.filter(
			({ code }) =>
				page.also?.some((c) => c === code) || page.sections.some((s) => checkOf(code)?.section === s)
		);
		const found = SEVERITIES.find((s) => s !== 'note' && about.some((f) => f.severity === s));
		if (found) worst[page.path] = found;
	}
	return worst;
}
