/** What happened so far in a job, as its customer knows it: nothing of notes, drafts, or what the tuner looked at. */
import type { Db } from '$lib/server/db/open.ts';
import { logsOf } from '$lib/server/logs/logs.ts';
import { revisionsOf } from '$lib/server/revisions/revisions.ts';

export interface StoryLine {
	at: string;
	/** What happened, in words for the customer. */
	says: string;
	/** Who did it: the customer, or the tuner. */
	by: 'you' | 'tuner';
}

/** Newest first. */
export async function storyOf(
	db: Db,
	jobId: number,
	done: { at: string } | null = null
): Promise<StoryLine[]> {
	const lines: StoryLine[] = [];
	const add = (at: string, by: StoryLine['by'], says: string) => lines.push({ at, says, by });
	const number = new Map<number, number>();
	for (const r of await revisionsOf(db, jobId)) {
		number.set(r.id, r.number);
		if (r.releasedAt) add(r.releasedAt, 'tuner', `R${r.number} was sent to you`);
	}
	const events = number.size
		? await db
				.selectFrom('revision_events')
				.select(['revision_id', 'kind', 'created_at'])
				.where('revision_id', 'in', [...number.keys()])
				.execute()
		: [];
	for (const e of events) {
		const name = `R${number.get(e.revision_id)}`;
		if (e.kind === 'installed') add(e.created_at, 'you', `${name} went into the car`);
		else add(e.created_at, 'tuner', `${name} was taken back`);
	}
	const asked = await db
		.selectFrom('requests')
		.select(['created_at', 'document'])
		.where('job_id', '=', jobId)
		.execute();
	for (const { created_at, document } of asked) {
		const { title } = JSON.parse(document) as { title?: string };
		add(created_at, 'tuner', `asked for a log${title ? `: ${title}` : ''}`);
	}
	for (const l of await logsOf(db, jobId)) {
		if (l.sentBy !== 'customer' || l.takenOut !== null) continue;
		add(l.receivedAt, 'you', `sent ${l.name}`);
		if (l.declinedAt) add(l.declinedAt, 'tuner', `asked for another log instead of ${l.name}`);
	}
	if (done) add(done.at, 'tuner', 'called the tune done');
	return lines.sort((a, b) => b.at.localeCompare(a.at));
}
