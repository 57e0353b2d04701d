/** The log that comes back is bound to its swap test, and answers it. */
import { InputError } from '$core/input-error.ts';
import { usualSeat } from '$core/vehicle/seats.ts';
import type { App } from '$lib/server/context.ts';
import type { Db } from '$lib/server/db/open.ts';
import { conditionsFrom, seatsByTest } from '$lib/server/logs/log-conditions.ts';
import { ownLog, swapsOf } from '$lib/server/jobs/swap-tests.ts';

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
