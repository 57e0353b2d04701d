/** What was said of a released revision afterwards: that it is in the car, that it was taken back; and the holds that it went out over. */
import { InputError } from '$core/input-error.ts';
import type { Db } from '$lib/server/db/open.ts';
import { withdrawalsOf, type Revision } from './revisions.ts';
import type { PlacedEvent } from '$lib/server/jobs/timeline-event.ts';

export interface HoldAnswer {
	title: string;
	reason: string;
	author: string;
	at: string;
}

/** Holds that a released revision went out over, with who wrote what. */
export async function holdAnswersOf(db: Db, revisionId: number): Promise<HoldAnswer[]> {
	return db
		.selectFrom('hold_answers')
		.select(['title', 'reason', 'author', 'created_at as at'])
		.where('revision_id', '=', revisionId)
		.execute();
}

export interface RevisionEvent {
	/** Counts up with time, whatever the clock says. */
	id: number;
	kind: 'installed' | 'withdrawn';
	author: string;
	reason: string;
	at: string;
}

export async function eventsOf(db: Db, revisionId: number): Promise<RevisionEvent[]> {
	return db
		.selectFrom('revision_events')
		.select(['id', 'kind', 'author', 'reason', 'created_at as at'])
		.where('revision_id', '=', revisionId)
		.orderBy('id')
		.execute();
}

/** The customer has said that it is in the car, and no later one that went in since was taken back. */
async function isConfirmed(db: Db, rev: Revision): Promise<boolean> {
	const later = (await withdrawalsOf(db, rev.jobId)).filter((w) => w.number > rev.number);
	const since = Math.max(0, ...later.map((w) => w.eventId));
	return (await eventsOf(db, rev.id)).some((e) => e.kind === 'installed' && e.id > since);
}

/** The customer says that it is in the car. Saying so twice changes nothing. */
export async function confirmInstalled(
	db: Db,
	rev: Revision,
	author: string,
	now = new Date()
): Promise<void> {
	if (rev.state !== 'released') throw new InputError(`R${rev.number} is not released`);
	const events = await eventsOf(db, rev.id);
	if (events.some((e) => e.kind === 'withdrawn'))
		throw new InputError(`R${rev.number} was withdrawn: don't use it`);
	if (await isConfirmed(db, rev)) return;
	await db
		.insertInto('revision_events')
		.values({ revision_id: rev.id, kind: 'installed', author, reason: '', created_at: now.toISOString() })
		.execute();
}

interface LineageRow {
	id: number;
	number: number;
	state: string;
	changes: string;
	edits: string;
	parent_id: number | null;
}

/** What a revision is: how much it changes, which one it goes out from where that isn't the one before, and whether it still counts. */
function lineage(r: LineageRow, all: readonly LineageRow[], withdrawn: ReadonlySet<number>): string {
	if (r.state === 'baseline') return 'as received';
	const count = (text: string) => (JSON.parse(text) as unknown[]).length;
	const parent = all.find((p) => p.id === r.parent_id);
	const before = Math.max(
		...all.filter((p) => p.number < r.number && p.state !== 'draft').map((p) => p.number)
	);
	return [
		...(withdrawn.has(r.id) ? ['withdrawn'] : []),
		...(parent && parent.number !== before ? [`from R${parent.number}`] : []),
		`${count(r.changes) + count(r.edits)} ${count(r.edits) ? 'changes' : 'cells changed'}`
	].join(' · ');
}

/** Revisions of a job, for the timeline. */
export async function revisionEvents(db: Db, jobId: number): Promise<PlacedEvent[]> {
	const withdrawn = new Set((await withdrawalsOf(db, jobId)).map((w) => w.revisionId));
	const rows = await db
		.selectFrom('revisions')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'revisions.id').on('timeline.kind', '=', 'revision')
		)
		.select(['id', 'number', 'state', 'created_at', 'released_at', 'changes', 'edits', 'parent_id', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	return rows.map((r) => ({
		n: r.n,
		kind: 'revision',
		id: r.id,
		label: `R${r.number}`,
		at: r.released_at ?? r.created_at,
		state: r.state,
		detail: lineage(r, rows, withdrawn)
	}));
}
