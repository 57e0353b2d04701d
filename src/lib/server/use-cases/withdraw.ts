/** A released revision is taken back: it stays in the record, the customer is told, and nobody should drive on it. */
import { InputError } from '$core/input-error.ts';
import { REASON_LENGTH } from '$core/revising/reason.ts';
import type { App } from '$lib/server/context.ts';
import { setWaiting, type JobView } from '$lib/server/jobs/jobs.ts';
import { WORDS_LENGTH, writeToCustomer } from '$lib/server/jobs/messages.ts';
import { eventsOf } from '$lib/server/revisions/revision-events.ts';
import type { Revision } from '$lib/server/revisions/revisions.ts';

/** @throws InputError without a reason, or where it is taken back already */
export async function withdraw(
	{ db, mailer }: Pick<App, 'db' | 'mailer'>,
	job: Pick<JobView, 'id' | 'title' | 'email'>,
	rev: Revision,
	author: string,
	reason: string,
	now = new Date()
): Promise<void> {
	if (rev.state !== 'released') throw new InputError(`R${rev.number} is not released`);
	const why = reason.trim();
	if (why.length < REASON_LENGTH)
		throw new InputError(`write why it is withdrawn (at least ${REASON_LENGTH} characters)`);
	if (why.length > WORDS_LENGTH)
		throw new InputError(`the reason is too long: at most ${WORDS_LENGTH} characters`);
	await db.transaction().execute(async (trx) => {
		if ((await eventsOf(trx, rev.id)).some((e) => e.kind === 'withdrawn'))
			throw new InputError(`R${rev.number} is already withdrawn`);
		await trx
			.insertInto('revision_events')
			.values({
				revision_id: rev.id,
				kind: 'withdrawn',
				author,
				reason: why,
				created_at: now.toISOString()
			})
			.execute();
		const body = `R${rev.number} is withdrawn: please don't drive on it. ${why}\n\nPut the revision before it back into the car, or park it until you hear from me.`;
		await writeToCustomer(trx, mailer, job, author, body, {
			subject: `${job.title}: don't use R${rev.number}`,
			asks: false
		});
		await setWaiting(trx, job.id, 'tuner');
	});
	mailer.wake();
}
