/** The verdict of a log as one plain sentence, and its four counts. */
import type { Report } from '$core/screening/report';

export interface Counts {
	stop: number;
	fix: number;
	watch: number;
	notChecked: number;
}

export function counts(report: Report): Counts {
	const of = (s: string) => report.findings.filter((f) => f.severity === s).length;
	return {
		stop: of('stop'),
		fix: of('fix'),
		watch: of('watch'),
		notChecked: report.checks.filter((c) => c.outcome === 'not-checked').length
	};
}

/** @param title how a finding is called, in the reader's units */
export function sentence(report: Report, title: (f: Report['findings'][number]) => string): string {
	const worst = report.findings.find((f) => f.severity !== 'note');
	const pulls = report.segments.filter((s) => s.kind === 'pull').length;
	switch (report.verdict) {
		case 'stop':
			return `Stop: ${lower(title(worst!))}. Nothing may be made more aggressive until that is resolved.`;
		case 'fix':
			return `To fix before the tune goes on: ${lower(title(worst!))}.`;
		case 'watch':
			return `Nothing dangerous in what was checked; keep an eye on this: ${lower(title(worst!))}.`;
		default:
			return pulls > 0
				? 'Nothing found in what was checked.'
				: 'Nothing found in what was checked, but there is no full-throttle pull in this log.';
	}
}

function lower(title: string): string {
	return title.charAt(0).toLowerCase() + title.slice(1);
}
