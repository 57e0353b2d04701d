/** Drive plans of a job: what the customer was asked to log. The newest one holds. */
import { parseRequest, type LogRequest } from '$core/request.ts';
import { parseJson } from '$core/parse.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { PlacedEvent } from './timeline-event.ts';

export interface StoredRequest {
	id: number;
	template: string;
	plan: LogRequest;
	at: string;
}

function stored(row: { id: number; template: string; document: string; created_at: string }): StoredRequest {
	return {
		id: row.id,
		template: row.template,
		plan: parseRequest(parseJson(row.document)),
		at: row.created_at
	};
}

export async function requestById(db: Db, id: number): Promise<StoredRequest | null> {
	const row = await db.selectFrom('requests').selectAll().where('id', '=', id).executeTakeFirst();
	return row ? stored(row) : null;
}

/** What the customer is asked for now; `null` when nothing was asked yet. */
export async function currentRequest(db: Db, jobId: number): Promise<StoredRequest | null> {
	const row = await db
		.selectFrom('requests')
		.selectAll()
		.where('job_id', '=', jobId)
		.orderBy('id', 'desc')
		.executeTakeFirst();
	return row ? stored(row) : null;
}

/** Asks for a log; the plan is kept as it was sent. */
export async function ask(
	db: Db,
	jobId: number,
	template: string,
	plan: LogRequest,
	now = new Date()
): Promise<number> {
	const { insertId } = await db
		.insertInto('requests')
		.values({ job_id: jobId, template, document: JSON.stringify(plan), created_at: now.toISOString() })
		.executeTakeFirstOrThrow();
	return Number(insertId);
}

/** Plans that were sent, for the timeline. */
export async function planEvents(db: Db, jobId: number): Promise<PlacedEvent[]> {
	const rows = await db
		.selectFrom('requests')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'requests.id').on('timeline.kind', '=', 'plan')
		)
		.select(['id', 'document', 'created_at', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	return rows.map((p) => ({
		n: p.n,
		kind: 'plan',
		id: p.id,
		label: (JSON.parse(p.document) as LogRequest).title ?? 'Drive plan',
		at: p.created_at,
		state: 'plan',
		detail: 'drive plan sent'
	}));
}
