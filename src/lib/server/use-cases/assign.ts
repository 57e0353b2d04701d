/** Whose job it is: handed over from one tuner to another, with a note that stays in the job. */
import { z } from 'zod';
import { InputError } from '$core/input-error.ts';
import { parseWith } from '$core/parse.ts';
import type { Tuner } from '$lib/server/auth/accounts.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { JobView } from '$lib/server/jobs/jobs.ts';
import { addNote } from '$lib/server/jobs/messages.ts';

const entered = z.object({
	/** Account of the tuner; empty for nobody. */
	tuner: z.string().max(100),
	note: z.string().trim().max(2000, 'the note is longer than 2000 characters')
});

/**
 * Gives a job to a tuner, or to nobody. What was said with it, and that it was done, is a note of the job.
 * @param tuners of the workshop
 * @throws InputError where there is no such tuner, or nothing changes
 */
export async function assignJob(
	db: Db,
	job: Pick<JobView, 'id' | 'tuner'>,
	by: Pick<Tuner, 'id' | 'name'>,
	tuners: readonly { id: string; name: string }[],
	input: z.input<typeof entered>,
	now = new Date()
): Promise<void> {
	const { tuner: id, note } = parseWith(entered, input);
	const to = id ? tuners.find((t) => t.id === id) : null;
	if (to === undefined) throw new InputError('there is no such tuner in this workshop', 'tuner');
	if ((to?.id ?? null) === (job.tuner?.id ?? null))
		throw new InputError(to ? `it is the job of ${to.name} already` : 'it is nobody’s job already', 'tuner');
	const done = !to
		? 'Given back: nobody’s job now'
		: to.id === by.id
			? `Taken over by ${to.name}`
			: `Handed over to ${to.name}`;
	await db.transaction().execute(async (trx) => {
		await trx
			.updateTable('jobs')
			.set({ tuner_id: to?.id ?? null, tuner_name: to?.name ?? null })
			.where('id', '=', job.id)
			.execute();
		await addNote(trx, job.id, by.name, note ? `${done}: ${note}` : `${done}.`, now);
	});
}
