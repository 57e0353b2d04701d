/** Swap tests of a job: begun from a finding, answered by the log that comes back. */
import { InputError } from '$core/input-error.ts';
import type { SwapAnswer } from '$core/swaps/answer.ts';
import type { MovedAnswer } from '$core/swaps/moved-sensor.ts';
import type { Hold } from '$core/revising/holds.ts';
import { parseSwap, type Swap } from '$core/swaps/document.ts';
import { standingOf, type Standing } from '$core/swaps/standing.ts';
import type { App } from './context.ts';
import { nextId } from './db/ids.ts';
import type { Db } from './db/open.ts';
import { conditionsFrom, seatsByTest } from './log-conditions.ts';
import type { PlacedEvent } from './timeline-event.ts';
import { usualSeat } from '$core/vehicle/seats.ts';
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

async function ownLog(db: Db, jobId: number, id: number, which: string): Promise<void> {
	const log = await db
		.selectFrom('logs')
		.select(['state', 'taken_out'])
		.where('id', '=', id)
		.where('job_id', '=', jobId)
		.executeTakeFirst();
	if (!log || log.taken_out !== null) throw new InputError('there is no such log in this job', which);
	if (log.state !== 'screened') throw new InputError('this log is not read yet, or can’t be read', which);
}

/**
 * Binds a log to a test and answers it.
 * @returns whether the test says of the log where a sensor sat in it: it waits to be read again with that then
 * @throws InputError where the log is none of the job's, or is another one of the test
 */
export async function bindLog(
	app: Pick<App, 'db' | 'dataDir' | 'pool'>,
	jobId: number,
	id: number,
	which: 'after' | 'back',
	logId: number
): Promise<boolean> {
	const test = (await swapsOf(app.db, jobId)).find((t) => t.id === id);
	if (!test) throw new InputError('there is no such test in this job');
	await ownLog(app.db, jobId, logId, which);
	if (which === 'back' && test.after === null)
		throw new InputError('the log after the swap comes first', which);
	const logs = { before: test.before, after: test.after, back: test.back, [which]: logId };
	const bound = [logs.before, logs.after, logs.back].filter((l) => l !== null);
	if (new Set(bound).size < bound.length)
		throw new InputError('this log stands for another part of the test already', which);
	const answer = await app.pool.run('swap', {
		dataDir: app.dataDir,
		swap: test.swap,
		before: logs.before,
		after: logs.after!,
		back: logs.back
	});
	if (!answer.ok) throw new InputError(answer.message);
	await app.db
		.updateTable('swap_tests')
		.set({ after_log: logs.after, back_log: logs.back, answer: JSON.stringify(answer.answer) })
		.where('id', '=', id)
		.execute();
	return takeSeat(app.db, logId, await seatsByTest(app.db, test.swap, which, bound));
}

/** A sensor that a test moved sat there in this log. @returns whether that is news: the log has to be read again with it */
async function takeSeat(db: Db, logId: number, sites: Record<string, string> | null): Promise<boolean> {
	if (!sites) return false;
	const row = await db
		.selectFrom('logs')
		.select('conditions')
		.where('id', '=', logId)
		.executeTakeFirstOrThrow();
	const said = conditionsFrom(row.conditions);
	const known = (channel: string) => said?.sites?.[channel] ?? usualSeat(channel, 2);
	if (Object.entries(sites).every(([channel, site]) => known(channel) === site)) return false;
	const conditions = { schema: 'tanto.conditions/1', ...said, sites: { ...said?.sites, ...sites } };
	await db
		.updateTable('logs')
		.set({ conditions: JSON.stringify(conditions), state: 'received', progress: 0 })
		.where('id', '=', logId)
		.execute();
	return true;
}

/** A log that answers the drive plan of an open test is its log after. */
export async function bindArrived(
	app: Pick<App, 'db' | 'dataDir' | 'pool'>,
	logId: number
): Promise<boolean> {
	const open = await app.db
		.selectFrom('logs')
		.innerJoin('swap_tests', 'swap_tests.request_id', 'logs.request_id')
		.select(['swap_tests.id', 'logs.job_id'])
		.where('logs.id', '=', logId)
		.where('logs.state', '=', 'screened')
		.where('swap_tests.after_log', 'is', null)
		.whereRef('swap_tests.before_log', '!=', 'logs.id')
		.execute();
	let moved = false;
	for (const t of open) moved = (await bindLog(app, t.job_id, t.id, 'after', logId)) || moved;
	return moved;
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
