/** Calling a tune done: what still stands open is named, and taken only with a written reason. */
import { InputError } from '$core/input-error.ts';
import { REASON_LENGTH } from '$core/revising/reason.ts';
import type { App } from '$lib/server/context.ts';
import { setDone, setWaiting, type JobView } from '$lib/server/jobs/jobs.ts';
import { addNote, WORDS_LENGTH, writeToCustomer } from '$lib/server/jobs/messages.ts';
import { openIn } from '$lib/server/jobs/open-findings.ts';

/**
 * Calls a tune done and tells the customer.
 * @param reason why it is done although something stands open; kept as a note
 */
export async function finish(
	{ db, mailer }: Pick<App, 'db' | 'mailer'>,
	job: JobView,
	author: string,
	words: string,
	reason: string
): Promise<void> {
	if (words.trim().length < 10) throw new InputError('write what the customer should know (a sentence)');
	if (words.length > WORDS_LENGTH)
		throw new InputError(`the closing words are too long: at most ${WORDS_LENGTH} characters`);
	const open = await openIn(db, job.id);
	if (open.length && reason.trim().length < REASON_LENGTH)
		throw new InputError(
			`${open[0]!.text}${open.length > 1 ? ` and ${open.length - 1} more` : ''}: resolve it, or write why it is done all the same (at least ${REASON_LENGTH} characters)`
		);
	await db.transaction().execute(async (trx) => {
		if (open.length)
			await addNote(
				trx,
				job.id,
				author,
				`Completed although this stood open:\n${open.map((o) => o.text).join('\n')}\n\nWhy: ${reason.trim()}`
			);
		await setDone(trx, job.id, words);
		await writeToCustomer(trx, mailer, job, author, `Your tune is done.\n\n${words}`, {
			subject: `${job.title}: done`,
			asks: false
		});
		await setWaiting(trx, job.id, 'customer');
	});
	mailer.wake();
}
