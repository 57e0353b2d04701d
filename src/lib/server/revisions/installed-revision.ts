/** Whether the calibration that should be in the car is in it: the customer said so, or a log was made with it. */
import type { Db } from '$lib/server/db/open.ts';
import type { Revision } from './revisions.ts';

/**
 * Of each job the newest frozen revision that was not taken back, where somebody witnesses that it is in the car.
 *
 * What was said or logged before a later revision was taken back counts no more: that later one was in the car since.
 * The calibration as it came needs no witness.
 * @returns ids of revisions
 */
export async function inTheCar(db: Db, jobIds: readonly number[]): Promise<Map<number, InCar>> {
	const revisions = await db
		.selectFrom('revisions')
		.select(['id', 'job_id', 'number', 'state'])
		.where('job_id', 'in', jobIds)
		.where('state', '!=', 'draft')
		.orderBy('number')
		.execute();
	const events = await db
		.selectFrom('revision_events')
		.innerJoin('revisions', 'revisions.id', 'revision_events.revision_id')
		.select([
			'revision_events.id',
			'revision_events.revision_id',
			'revision_events.kind',
			'revision_events.created_at',
			'revisions.job_id',
			'revisions.number'
		])
		.where('revisions.job_id', 'in', jobIds)
		.orderBy('revision_events.id')
		.execute();
	const logs = await db
		.selectFrom('logs')
		.select(['revision_id'])
		.select(({ fn }) => fn.max('received_at').as('received_at'))
		.where('job_id', 'in', jobIds)
		.where('taken_out', 'is', null)
		.where('state', '!=', 'failed')
		.groupBy('revision_id')
		.execute();
	const logged = new Map(logs.map((l) => [l.revision_id, l.received_at]));
	const gone = new Set(events.filter((e) => e.kind === 'withdrawn').map((e) => e.revision_id));
	const out = new Map<number, InCar>();
	for (const r of revisions) {
		if (gone.has(r.id)) continue;
		const back = events.findLast(
			(e) => e.kind === 'withdrawn' && e.job_id === r.job_id && e.number > r.number
		);
		out.set(r.job_id, {
			revisionId: r.id,
			number: r.number,
			witnessed:
				r.state === 'baseline' ||
				events.some((e) => e.kind === 'installed' && e.revision_id === r.id && e.id > (back?.id ?? 0)) ||
				(logged.get(r.id) ?? '') > (back?.created_at ?? '')
		});
	}
	return out;
}

export interface InCar {
	revisionId: number;
	number: number;
	witnessed: boolean;
}

/** Whether somebody witnesses that this revision, the newest that was not taken back, is in the car. */
export async function isInTheCar(db: Db, rev: Pick<Revision, 'id' | 'jobId'>): Promise<boolean> {
	const car = (await inTheCar(db, [rev.jobId])).get(rev.jobId);
	return car?.revisionId === rev.id && car.witnessed;
}
