/** Whether a log will do, in the words of somebody who drives and doesn't calibrate: for the phone before it is sent, and for the tuner who asks again. */
import { checkOf } from '../screening/codes.ts';
import type { Finding } from '../screening/types.ts';
import type { Report } from '../screening/report.ts';
import { fixed, list, plural } from '../format.ts';

export interface Fit {
	/** Nothing that would make the tuner ask for another log. */
	willDo: boolean;
	/** What is in the log. */
	has: string[];
	/** What is wrong or missing, each with what to do. */
	lacks: string[];
	/** Something dangerous was seen: not to be driven hard until the tuner has answered. */
	careful: boolean;
}

/** Whether a finding is about the log, not about the car. */
const aboutLog = (f: Finding) => checkOf(f.code)?.section === 'fit';

const inPlainWords = (f: Finding): string => checkOf(f.code)?.plain?.(f) ?? f.summary;

function driven(report: Report): string[] {
	const pulls = report.segments.filter((s) => s.kind === 'pull');
	const gears = [...new Set(pulls.flatMap((p) => (p.gear ? [p.gear] : [])))].sort((a, b) => a - b);
	const minutes = report.log.durationS / 60;
	const length = minutes < 2 ? `${Math.round(report.log.durationS)} seconds` : `${fixed(minutes, 0)} minutes`;
	const inGears = gears.length ? ` in gear ${list(gears.map(String))}` : '';
	return [
		`${length} of driving, ${report.log.channels.length} channels recognised`,
		pulls.length === 0 ? 'no full-throttle pull' : `${plural(pulls.length, 'full-throttle pull')}${inGears}`
	];
}

export function fitOf(report: Report): Fit {
	const fitness = report.findings.filter((f) => aboutLog(f));
	const serious = fitness.filter((f) => f.severity !== 'note');
	return {
		willDo: !serious.some(
			(f) =>
				f.severity === 'stop' || f.severity === 'fix' || (f.code === 'log.coverage' && f.kind !== 'beyond')
		),
		has: driven(report),
		lacks: serious.map(inPlainWords),
		careful: report.findings.some((f) => !aboutLog(f) && f.severity === 'stop')
	};
}

/** The message that asks for another log, with what was wrong with this one. */
export function askAgain(report: Report, logName: string): string {
	const { lacks } = fitOf(report);
	return [
		`Thank you for “${logName}”. I can't judge the car from it yet; please make another log.`,
		...(lacks.length ? [lacks.map((l) => `– ${l}`).join('\n')] : []),
		'What to drive and to record stands on your page.'
	].join('\n\n');
}

/** The same for a file that could not be read at all. */
export function askAgainUnread(logName: string, why: string | null): string {
	return [
		`Thank you for “${logName}”. It could not be read${why ? `: ${why}` : ''}. Please export it again as text (CSV), or record it again.`,
		'What to drive and to record stands on your page.'
	].join('\n\n');
}
