/** How each section of a job stands, in a word: what its rail shows. */
import type { Severity } from '$core/screening/types.ts';
import type { Db } from '$lib/server/db/open.ts';
import { isInTheCar } from '$lib/server/revisions/installed-revision.ts';
import { inspectionOf } from './inspection.ts';
import type { JobView } from './jobs.ts';
import { currentRevision } from '$lib/server/revisions/revisions.ts';
import type { TimelineEvent } from './timeline-event.ts';

export interface SectionState {
	word: string;
	/** A verdict or a severity; drawn as its shape. */
	mark?: Severity | 'clear' | 'failed';
}

export interface Rail {
	sections: Partial<Record<string, SectionState>>;
	/** The revision that is in the car, as far as somebody witnesses it. */
	inCar: number | null;
}

const MARKS: readonly string[] = ['stop', 'fix', 'watch', 'note', 'clear', 'failed'];

/** @param worries points of the inspection that are not fine or unsure */
export function sectionStates(
	job: Pick<JobView, 'done' | 'waitingOn'>,
	events: readonly TimelineEvent[],
	worries: number
): Rail['sections'] {
	const logs = events.filter((e) => e.kind === 'log');
	const newest = logs.findLast((e) => !e.aside && MARKS.includes(e.state));
	const revisions = events.filter((e) => e.kind === 'revision');
	const draft = revisions.findLast((e) => e.state === 'draft');
	const waiting = events.some((e) => e.waits);
	const words = events.filter((e) => e.kind === 'message' && e.state !== 'note');
	const unanswered = words.length - 1 - words.findLastIndex((e) => e.state !== 'from-customer');
	const out: Rail['sections'] = {
		overview: { word: job.done ? 'complete' : job.waitingOn === 'tuner' ? 'your turn' : 'customer’s turn' },
		calibration: { word: draft ? `${draft.label} draft` : (revisions.at(-1)?.label ?? '') }
	};
	if (logs.length)
		out['logs'] = {
			word: String(logs.length),
			...(newest ? { mark: newest.state as NonNullable<SectionState['mark']> } : {})
		};
	if (waiting) out['diagnosis'] = { word: 'test open', mark: 'watch' };
	if (events.some((e) => e.kind === 'plan')) out['plan'] = { word: 'sent' };
	if (worries) out['vehicle'] = { word: `${worries} open`, mark: 'watch' };
	if (unanswered > 0) out['customer'] = { word: `${unanswered} new` };
	return out;
}

export async function railOf(db: Db, job: JobView, events: readonly TimelineEvent[]): Promise<Rail> {
	const [inspection, current] = await Promise.all([inspectionOf(db, job.id), currentRevision(db, job.id)]);
	const worries = inspection.filter((i) => i.state === 'not-fine' || i.state === 'unsure').length;
	const installed = await isInTheCar(db, { id: current.id, jobId: job.id });
	return { sections: sectionStates(job, events, worries), inCar: installed ? current.id : null };
}
