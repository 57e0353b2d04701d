/** Swap tests of a job: begun from a finding, answered by the log that comes back. */
import { InputError } from '$core/input-error.ts';
import type { SwapAnswer } from '$core/swaps/answer.ts';
import type { MovedAnswer } from '$core/swaps/moved-sensor.ts';
import type { Hold } from '$core/revising/holds.ts';
import { parseSwap, type Swap } from '$core/swaps/document.ts';
import { standingOf, type Standing } from '$core/swaps/standing.ts';
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { PlacedEvent } from './timeline-event.ts';
import { SWAP_TITLES, type SwapKind } from '$core/swap-kind.ts';

export interface SwapTest {
	id: number;
	swap: Swap;
	/** Key of the finding that it began with. */
	finding: string;
	before: number;
	after: number | null;
	back: number | null;
	answer: SwapAnswer | MovedAnswer | null;
	requestId: number | null;
	author: string;
	at: string;
}

/** Tests of a job, oldest first. */
export async function swapsOf(db: Db, jobId: number): Promise<SwapTest[]> {
	const rows = await db
		.selectFrom('swap_tests')
		.selectAll()
		.where('job_id', '=', jobId)
		.orderBy('id')
		.execute();
	return rows.map((r) => ({
		id: r.id,
		swap: parseSwap(JSON.parse(r.document)),
		finding: r.finding,
		before: r.before_log,
		after: r.after_log,
		back: r.back_log,
		answer: r.answer ? (JSON.parse(r.answer) as SwapAnswer | MovedAnswer) : null,
		requestId: r.request_id,
		author: r.author,
		at: r.created_at
	}));
}

/** What a difference is: the bank or cylinder that shows it changes with every swap. */
export const subjectOf = (findingKey: string): string => findingKey.split(' ')[0]!;

/**
 * What the tests of a difference say together; `null` where none was begun.
 * @param possible the tests that the vehicle has the parts for
 */
export function standingFor(
	tests: readonly SwapTest[],
	finding: string,
	possible?: readonly SwapKind[]
): Standing | null {
	const own = tests.filter((t) => subjectOf(t.finding) === subjectOf(finding));
	return own.length ? standingOf(own, possible) : null;
}

/** Holds that a finding opened, with the cause that tests named as the reason to begin with: still a person's to give. */
export async function causesFor(
	db: Db,
	jobId: number,
	holds: readonly Pick<Hold, 'id' | 'finding'>[]
): Promise<Record<string, string>> {
	const tests = await swapsOf(db, jobId);
	return Object.fromEntries(
		holds.flatMap((h) => {
			const standing = h.finding === undefined ? null : standingFor(tests, h.finding);
			if (standing?.cause) return [[h.id, `The cause is found: ${standing.cause}`]];
			return standing?.seen ? [[h.id, standing.seen]] : [];
		})
	);
}

export interface NewSwap {
	finding: string;
	before: number;
	/** The drive plan that went out with it. */
	requestId: number | null;
}

/**
 * Begins a test, inside whatever transaction `db` is.
 * @throws InputError where the log is none of the job's, or nothing can be read of it
 */
export async function beginSwap(
	db: Db,
	jobId: number,
	swap: Swap,
	{ finding, before, requestId }: NewSwap,
	author: string,
	now = new Date()
): Promise<number> {
	await ownLog(db, jobId, before, 'before');
	const id = await nextId(db, 'swap_tests');
	await db
		.insertInto('swap_tests')
		.values({
			id,
			job_id: jobId,
			finding,
			document: JSON.stringify(swap),
			request_id: requestId,
			before_log: before,
			after_log: null,
			back_log: null,
			answer: null,
			author,
			created_at: now.toISOString()
		})
		.execute();
	return id;
}

/** A log of the job that can stand for a part of a test. @throws InputError where it can't */
export async function ownLog(db: Db, jobId: number, id: number, which: string): Promise<void> {
	const log = await db
		.selectFrom('logs')
		.select(['state', 'taken_out'])
		.where('id', '=', id)
		.where('job_id', '=', jobId)
		.executeTakeFirst();
	if (!log || log.taken_out !== null) throw new InputError('there is no such log in this job', which);
	if (log.state !== 'screened') throw new InputError('this log is not read yet, or can’t be read', which);
}

/** Takes a test back that was begun by mistake: one that has no answer. */
export async function dropSwap(db: Db, jobId: number, id: number): Promise<void> {
	const { numDeletedRows } = await db
		.deleteFrom('swap_tests')
		.where('id', '=', id)
		.where('job_id', '=', jobId)
		.where('answer', 'is', null)
		.executeTakeFirstOrThrow();
	if (numDeletedRows === 0n) throw new InputError('a test that has its answer stays in the record');
	await db.deleteFrom('timeline').where('kind', '=', 'swap').where('ref', '=', id).execute();
}

/** Tests that were begun, for the timeline. */
export async function swapEvents(db: Db, jobId: number): Promise<PlacedEvent[]> {
	const rows = await db
		.selectFrom('swap_tests')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'swap_tests.id').on('timeline.kind', '=', 'swap')
		)
		.select(['id', 'document', 'answer', 'created_at', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	return rows.map((s) => ({
		n: s.n,
		kind: 'swap',
		id: s.id,
		label: `Test: ${SWAP_TITLES[parseSwap(JSON.parse(s.document)).kind].toLowerCase()}`,
		at: s.created_at,
		state: 'swap',
		detail: s.answer
			? (JSON.parse(s.answer) as { answer: string }).answer.replace('-', ' ')
			: 'waits for its log',
		...(s.answer ? {} : { waits: true as const })
	}));
}
