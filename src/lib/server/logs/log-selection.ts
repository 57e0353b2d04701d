/** Which logs of a job speak for its next revision: the hardware that they tell of, and what a person left out. */
import { hushes } from '$core/correction/evidence.ts';
import { plain, uncapital } from '$core/format.ts';
import { InputError } from '$core/input-error.ts';
import type { Verdict } from '$core/screening/types.ts';
import type { Db } from '$lib/server/db/open.ts';
import { logsOf, type LogLine } from './logs.ts';
import { hardwareOf } from '$lib/server/jobs/hardware.ts';
import { briefsOf } from './screenings.ts';

/** A log may be left out by a person, with a reason; it stays in the record. An empty reason takes it in again. */
export async function leaveOut(db: Db, log: LogLine, author: string, reason: string): Promise<void> {
	const said = reason.trim();
	if (said.length > 300) throw new InputError('the reason is longer than 300 characters');
	await db
		.updateTable('logs')
		.set({ left_out: said || null, left_out_by: said ? author : null })
		.where('id', '=', log.id)
		.execute();
}

export interface EvidenceLine {
	id: number;
	/** Name of its file. */
	name: string;
	title: string;
	revision: number;
	revisionId: number;
	at: string;
	verdict: Verdict | null;
	/** Why it doesn't speak, as far as the record knows; `null` where it may. */
	silent: string | null;
	leftOut: { reason: string; by: string } | null;
}

/** The logs of a job, newest first. */
export async function evidenceOf(db: Db, jobId: number): Promise<EvidenceLine[]> {
	const logs = await logsOf(db, jobId);
	const [last] = await hardwareOf(db, jobId);
	const briefs = await briefsOf(
		db,
		logs.map((l) => l.id)
	);
	const out = new Map(
		(
			await db
				.selectFrom('logs')
				.select(['id', 'left_out', 'left_out_by'])
				.where('job_id', '=', jobId)
				.where('left_out', 'is not', null)
				.execute()
		).map((r) => [r.id, { reason: r.left_out!, by: r.left_out_by ?? '' }])
	);
	const why = (l: LogLine): string | null => {
		if (l.takenOut) return `excluded: ${l.takenOut.reason}`;
		const left = out.get(l.id);
		if (left) return `left out: ${left.reason}`;
		if (l.declinedAt) return 'rejected, the customer was told';
		if (l.state !== 'screened') return l.state === 'failed' ? 'it can’t be read' : 'it is being read';
		if (last && l.receivedAt < last.at) return `from before: ${last.what}`;
		const doubt = briefs.get(l.id)?.findings.find(hushes);
		return doubt ? uncapital(plain(doubt.title)) : null;
	};
	return logs
		.map((l) => ({
			id: l.id,
			name: l.name,
			title: l.title,
			revision: l.revision,
			revisionId: l.revisionId,
			at: l.receivedAt,
			verdict: briefs.get(l.id)?.verdict ?? null,
			silent: why(l),
			leftOut: out.get(l.id) ?? null
		}))
		.reverse();
}

/** Logs that are computed with at most: each is read anew. */
export const MOST_LOGS = 8;

/** Logs for a revision: the one that it is proposed from, then those that may still speak, newest first. */
export async function speakingFor(db: Db, jobId: number, first: number | null): Promise<number[]> {
	const others = (await evidenceOf(db, jobId)).filter((l) => l.silent === null && l.id !== first);
	return [...(first === null ? [] : [first]), ...others.map((l) => l.id)].slice(0, MOST_LOGS);
}
