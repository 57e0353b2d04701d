/** Timeslips that somebody wrote down, beside the log of the run or on their own. */
import { InputError } from '$core/input-error.ts';
import { checkedSlip, slipSchema, type Slip } from '$core/performance/timeslip.ts';
import { nextId } from '$lib/server/db/ids.ts';
import type { Db } from '$lib/server/db/open.ts';

export interface StoredSlip extends Slip {
	id: number;
	title: string;
	logId: number | null;
	at: string;
}

const TITLE_LENGTH = 120;

/** @throws InputError for a slip that says nothing, or a log of another job */
export async function addSlip(
	db: Db,
	jobId: number,
	entry: { title: string; logId: number | null; slip: unknown },
	now = new Date()
): Promise<number> {
	const slip = checkedSlip(entry.slip);
	const title = entry.title.trim();
	if (title.length > TITLE_LENGTH)
		throw new InputError(`the name of the run is too long: at most ${TITLE_LENGTH} characters`);
	if (entry.logId !== null) {
		const log = await db.selectFrom('logs').select('job_id').where('id', '=', entry.logId).executeTakeFirst();
		if (log?.job_id !== jobId) throw new InputError('the slip belongs to a log of this job');
	}
	const { insertId } = await db
		.insertInto('timeslips')
		.values({
			id: await nextId(db, 'timeslips'),
			job_id: jobId,
			log_id: entry.logId,
			title,
			values_json: JSON.stringify(slip),
			created_at: now.toISOString()
		})
		.executeTakeFirstOrThrow();
	return Number(insertId);
}

export async function slipsOf(db: Db, jobId: number): Promise<StoredSlip[]> {
	const rows = await db
		.selectFrom('timeslips')
		.selectAll()
		.where('job_id', '=', jobId)
		.orderBy('id')
		.execute();
	return rows.map((r) => ({
		id: r.id,
		title: r.title,
		logId: r.log_id,
		at: r.created_at,
		...slipSchema.parse(JSON.parse(r.values_json))
	}));
}

export async function removeSlip(db: Db, jobId: number, id: number): Promise<void> {
	await db.deleteFrom('timeslips').where('job_id', '=', jobId).where('id', '=', id).execute();
}
