/**
 * Advice that is no calibration: a repair, a part, another fuel, another log. Which one a log speaks for, and a first draft of the words;
 * the tuner edits both.
 */
import type { AdviceKind } from '../screening/check.ts';
import { checkOf } from '../screening/codes.ts';
import type { Report } from '../screening/report.ts';
import type { Finding } from '../screening/types.ts';
import { list } from '../format.ts';

const kindOf = (f: Finding): AdviceKind | null => checkOf(f.code)?.advice ?? null;
const serious = (f: Finding) => f.severity === 'stop' || f.severity === 'fix';

/** The kind that the worst finding of a log speaks for; `other` where none does. */
export function advisedKind(report: Report | null): AdviceKind {
	for (const f of report?.findings ?? []) {
		const kind = serious(f) ? kindOf(f) : null;
		if (kind) return kind;
	}
	return 'other';
}

const OPENING: Record<AdviceKind, string> = {
	repair: 'No new file this time: this has to be put right on the car first.',
	part: 'No new file this time: the car is at the end of what this part can do.',
	fuel: 'No new file this time: the fuel comes first.',
	log: 'No new file this time: I need another log first.',
	other: 'No new file this time.'
};
const CLOSING: Record<AdviceKind, string> = {
	repair: 'Please don’t drive it hard until it is done. Then send a log, and we go on.',
	part: 'Until then stay at the revision and the boost that you have. Tell me when it is in.',
	fuel: 'Run the tank down to the warning light and fill it to the brim, then send a log.',
	log: 'The plan is on your page.',
	other: ''
};

/** What only one kind of advice can mend, said in a sentence. */
function remedy(kind: AdviceKind, f: Finding): string {
	const own = checkOf(f.code)?.remedy;
	if (own) return own;
	if (f.causes.length === 0) return '';
	return kind === 'repair' ? `look at, in this order: ${list(f.causes)}` : list(f.next);
}

/** Words for the customer: what was seen that this kind of advice answers, and what to do. */
export function adviceText(kind: AdviceKind, report: Report | null): string {
	const about = (report?.findings ?? []).filter((f) => kindOf(f) === kind && f.severity !== 'note');
	const points = about.slice(0, 4).map((f) => {
		const what = remedy(kind, f);
		return `• ${f.title}. ${f.summary}${what ? ` What helps: ${what}.` : ''}`;
	});
	return [OPENING[kind], ...points, CLOSING[kind]].filter(Boolean).join('\n\n');
}
