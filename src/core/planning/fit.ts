/** Whether a log will do, in the words of somebody who drives and doesn't calibrate: for the phone before it is sent, and for the tuner who asks again. */
import type { Finding } from '../screening/types.ts';
import type { Report } from '../screening/report.ts';
import { list } from '../screening/wording.ts';

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

const FITNESS = /^log\./;

/** Titles begin with their subject; sentences for the customer go on with it. */
const after = (text: string, colon = ': ') =>
	text.slice(text.indexOf(colon) + colon.length).replace(/\.$/, '');

/** All channels that `log.channels` misses, without the reasons: the customer has to choose every one. */
const namesOf = (f: Finding) =>
	after(f.summary.split(' Slower than')[0]!, 'lacks ')
		.replaceAll(/ \([^)]*\)/g, '')
		.replaceAll(';', ',');

function inPlainWords(f: Finding): string {
	switch (f.code) {
		case 'log.channels':
			return f.title.startsWith('Not logged')
				? `Not recorded: ${namesOf(f)}. Choose these in the logging program and record again.`
				: `Recorded too slowly: ${after(f.summary)}. Choose fewer channels or a faster rate in the logging program.`;
		case 'log.coverage':
			return `Not in this log: ${after(f.summary)}. Drive what is missing, and record it.`;
		case 'log.timebase':
			return `The recording has holes or is too slow (${lower(f.title)}). Close other programs, choose fewer channels, and record again.`;
		case 'log.units':
			return `A unit is not clear (${lower(f.title)}). Look it up in the logging program and tell your tuner.`;
		case 'log.sensor':
			return `A sensor does not say anything useful: ${lower(f.title)}. Look at its plug and wiring, and record again.`;
		case 'log.conditions':
			return `The car was not ready for full throttle: ${lower(f.title)}. Warm it up, or let it cool down, and do it again.`;
		case 'log.revision':
			return `This may not be the file that your tuner sent: ${lower(f.title)}. Check which file is in the car.`;
		default:
			return f.summary;
	}
}

function lower(text: string): string {
	return text.charAt(0).toLowerCase() + text.slice(1);
}

function driven(report: Report): string[] {
	const pulls = report.segments.filter((s) => s.kind === 'pull');
	const gears = [...new Set(pulls.flatMap((p) => (p.gear ? [p.gear] : [])))].sort((a, b) => a - b);
	const minutes = report.log.durationS / 60;
	const length =
		minutes < 2 ? `${Math.round(report.log.durationS)} seconds` : `${minutes.toFixed(0)} minutes`;
	const inGears = gears.length ? ` in gear ${list(gears.map(String))}` : '';
	return [
		`${length} of driving, ${report.log.channels.length} channels recognised`,
		pulls.length === 0
			? 'no full-throttle pull'
			: `${pulls.length} full-throttle pull${pulls.length > 1 ? 's' : ''}${inGears}`
	];
}

export function fitOf(report: Report): Fit {
	const fitness = report.findings.filter((f) => FITNESS.test(f.code));
	const serious = fitness.filter((f) => f.severity !== 'note');
	return {
		willDo: !serious.some((f) => f.severity === 'stop' || f.severity === 'fix' || f.code === 'log.coverage'),
		has: driven(report),
		lacks: serious.map(inPlainWords),
		careful: report.findings.some((f) => !FITNESS.test(f.code) && f.severity === 'stop')
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
