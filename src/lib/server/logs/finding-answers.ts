/** What tuners answered to findings, and what became of a finding over the logs of a job. */
import { InputError } from '$core/input-error.ts';
import { findingKey, rank } from '$core/screening/types.ts';
import { logsOf, screeningOf } from './logs.ts';
import { briefsOf } from './screenings.ts';
import { z } from 'zod';
import { parseWith } from '$core/parse.ts';
import type { Severity } from '$core/screening/types.ts';
import type { Db } from '$lib/server/db/open.ts';

export const ANSWERS = {
	accepted: 'accepted',
	'false-alarm': 'false alarm',
	resolved: 'resolved'
} as const;
export type AnswerKind = keyof typeof ANSWERS;

export interface FindingAnswer {
	key: string;
	kind: AnswerKind;
	reason: string;
	author: string;
	at: string;
	/** The log that it was answered in, and the revision which that was made with. */
	logId: number;
	revisionId: number;
	/** How grave it was then; `null` where that was not kept. */
	severity: Severity | null;
}

const schema = z.object({
	key: z.string().min(1).max(200),
	kind: z.enum(Object.keys(ANSWERS) as [AnswerKind, ...AnswerKind[]]),
	reason: z.string().trim().min(3, 'write why').max(2000, 'at most 2000 characters')
});

/** @throws InputError without a reason, and for what the log hasn't found */
export async function answerFinding(
	db: Db,
	jobId: number,
	logId: number,
	author: string,
	input: unknown,
	now = new Date()
): Promise<void> {
	const { key, kind, reason } = parseWith(schema, input);
	const found = (await screeningOf(db, logId))?.report.findings.find((f) => findingKey(f) === key);
	if (!found) throw new InputError('is no finding of this log', 'key');
	await db
		.insertInto('finding_answers')
		.values({
			job_id: jobId,
			log_id: logId,
			key,
			kind,
			severity: found.severity,
			reason,
			author,
			created_at: now.toISOString()
		})
		.execute();
}

/** Takes the newest answer to a finding back. */
export async function takeBack(db: Db, jobId: number, key: string): Promise<void> {
	const last = await db
		.selectFrom('finding_answers')
		.select('id')
		.where('job_id', '=', jobId)
		.where('key', '=', key)
		.orderBy('id', 'desc')
		.executeTakeFirst();
	if (last) await db.deleteFrom('finding_answers').where('id', '=', last.id).execute();
}

/** The newest answer to each finding of a job. */
export async function answersOf(db: Db, jobId: number): Promise<Record<string, FindingAnswer>> {
	const rows = await db
		.selectFrom('finding_answers as a')
		.innerJoin('logs as l', 'l.id', 'a.log_id')
		.select(['a.key', 'a.kind', 'a.severity', 'a.reason', 'a.author', 'a.created_at as at'])
		.select(['a.log_id as logId', 'l.revision_id as revisionId'])
		.where('a.job_id', '=', jobId)
		.orderBy('a.id')
		.execute();
	return Object.fromEntries(rows.map((r) => [r.key, r]));
}

/**
 * Whether an answer speaks for a finding of a log: what was resolved in an earlier log and stands again isn't resolved; what was accepted,
 * or called a false alarm, was no graver finding on another file.
 */
export function covers(
	answer: FindingAnswer,
	finding: { severity: Severity },
	log: { id: number; revisionId: number }
): boolean {
	if (answer.logId === log.id)
		return answer.severity === null || rank(finding.severity) >= rank(answer.severity);
	if (answer.kind === 'resolved') return answer.logId > log.id;
	return (
		answer.revisionId === log.revisionId &&
		answer.severity !== null &&
		rank(finding.severity) >= rank(answer.severity)
	);
}

/** The answers of a job to what a log found: those that cover it, and older ones that don't. */
export async function answersFor(
	db: Db,
	jobId: number,
	log: { id: number; revisionId: number } | null,
	findings: readonly { key: string; severity: Severity }[]
): Promise<{ covering: Record<string, FindingAnswer>; earlier: Record<string, FindingAnswer> }> {
	const covering: Record<string, FindingAnswer> = {};
	const earlier: Record<string, FindingAnswer> = {};
	if (!log) return { covering, earlier };
	const answers = await answersOf(db, jobId);
	for (const f of findings) {
		const answer = answers[f.key];
		if (answer) (covers(answer, f, log) ? covering : earlier)[f.key] = answer;
	}
	return { covering, earlier };
}

export interface Appearance {
	logId: number;
	name: string;
	severity: Severity;
	value: number | null;
	unit: string;
}

/** In which logs of a job each finding stood, oldest first. */
export async function historyOf(db: Db, jobId: number): Promise<Record<string, Appearance[]>> {
	const logs = (await logsOf(db, jobId)).filter((l) => l.takenOut === null);
	const briefs = await briefsOf(
		db,
		logs.map((l) => l.id)
	);
	const out: Record<string, Appearance[]> = {};
	for (const { id, title } of logs)
		for (const { key, severity, value, unit } of briefs.get(id)?.findings ?? [])
			(out[key] ??= []).push({ logId: id, name: title, severity, value, unit });
	return out;
}
