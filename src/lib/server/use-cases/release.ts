/** A draft goes out: frozen, with the answers to what held it, the plan to drive next, the message and its mail. All of it, or none. */
import { InputError } from '$core/input-error.ts';
import { planFrom, TEMPLATES } from '$core/planning/templates.ts';
import { standing } from '$core/revising/holds.ts';
import { REASON_LENGTH } from '$core/revising/reason.ts';
import { handTables } from '$lib/server/revisions/handed-out.ts';
import type { App } from '$lib/server/context.ts';
import type { Db } from '$lib/server/db/open.ts';
import type { JobView } from '$lib/server/jobs/jobs.ts';
import { writeToCustomer } from '$lib/server/jobs/messages.ts';
import { unreadLogs } from '$lib/server/jobs/newest-log.ts';
import { examinedOf, releaseCheck, type Examined } from '$lib/server/revisions/release-check.ts';
import type { ReplayOfDraft } from '$lib/server/revisions/release-check.ts';
import { replayOf } from '$lib/server/views/replays.ts';
import { ask } from '$lib/server/jobs/drive-plans.ts';
import { revision, type Revision } from '$lib/server/revisions/revisions.ts';

/** Notes go out as a message; they are refused before anything is stored, not after. */
const NOTES_LENGTH = 6000;

export interface ReleaseWords {
	/** Change notes in words for the customer. */
	notes: string;
	/** Written reasons by hold. */
	answers: Readonly<Record<string, string>>;
	author: string;
	/** The closed file holds what the tables say. */
	filesConfirmed: boolean;
	/** The customer can download the tables in plain numbers. */
	givesTables: boolean;
	/** What the page that is answered spoke of. */
	examined: Examined;
}

const CHANGED = 'was changed since this page was opened: look at it again before it goes out';

/**
 * Freezes a draft with its notes and the answers to its holds.
 * @param inside done in the same transaction, once it is frozen
 * @throws InputError when it is empty, a hold stands, a closed file was not confirmed, or it isn't what was examined any more
 */
export async function freeze(
	db: Db,
	draft: Revision,
	words: ReleaseWords,
	replayed: Pick<ReplayOfDraft, 'replay' | 'problem'>,
	at = new Date(),
	inside: (trx: Db) => Promise<void> = async () => {}
): Promise<void> {
	if (draft.contentHash !== words.examined.contentHash) throw new InputError(`R${draft.number} ${CHANGED}`);
	if (draft.state !== 'draft') throw new InputError(`R${draft.number} is already released`);
	if (words.notes.length > NOTES_LENGTH)
		throw new InputError(`the notes are too long for a message: at most ${NOTES_LENGTH} characters`);
	const check = await releaseCheck(db, draft, replayed);
	if (check.empty)
		throw new InputError('nothing differs from the revision before; there is nothing to release');
	const [stands] = standing(check.holds, words.answers);
	if (stands)
		throw new InputError(
			stands.answerable
				? `${stands.title}: resolve it, or write why it may go out all the same (at least ${REASON_LENGTH} characters)`
				: `${stands.title}: ${stands.why}`
		);
	const files = await db
		.selectFrom('attachments')
		.select('id')
		.where('revision_id', '=', draft.id)
		.executeTakeFirst();
	if (files && !words.filesConfirmed)
		throw new InputError('confirm that the closed file holds what the tables say');
	await db.transaction().execute(async (trx) => {
		const done = await trx
			.updateTable('revisions')
			.set({ state: 'released', notes: words.notes.trim(), released_at: at.toISOString() })
			.where('id', '=', draft.id)
			.where('state', '=', 'draft')
			.where('content_hash', '=', words.examined.contentHash)
			.executeTakeFirst();
		if (done.numUpdatedRows === 0n) {
			const state = (await revision(trx, draft.id))?.state;
			throw new InputError(
				state === 'draft' ? `R${draft.number} ${CHANGED}` : `R${draft.number} is already released`
			);
		}
		const now = await examinedOf(trx, draft);
		if (now.files !== words.examined.files)
			throw new InputError(`a closed file of R${draft.number} ${CHANGED}`);
		if (now.findings !== words.examined.findings)
			throw new InputError(`what the newest log found ${CHANGED}`);
		const reading = (await unreadLogs(trx, draft.jobId)).filter((l) => !l.failed);
		if (reading.length && !check.onlySafer)
			throw new InputError(`${reading[0]!.name} is being read: wait for what it says`);
		for (const hold of check.holds)
			await trx
				.insertInto('hold_answers')
				.values({
					revision_id: draft.id,
					hold: hold.id,
					title: hold.title,
					reason: words.answers[hold.id]!.trim(),
					author: words.author,
					created_at: at.toISOString()
				})
				.execute();
		if (words.givesTables) await handTables(trx, { ...draft, state: 'released' }, true, words.author, at);
		await inside(trx);
	});
}

/**
 * Releases a draft to its customer.
 * @param templateId a drive plan that goes out with it; anything else for none
 * @throws InputError as `freeze`, and without notes: the customer would not know what changed
 */
export async function release(
	app: App,
	job: JobView,
	draft: Revision,
	words: ReleaseWords,
	templateId: string
): Promise<void> {
	const { notes, author } = words;
	if (!notes) throw new InputError('write what the customer reads: what changed, and what to do first');
	const template = TEMPLATES.find((t) => t.id === templateId);
	await freeze(app.db, draft, words, await replayOf(app, draft), new Date(), async (trx) => {
		if (template)
			await ask(trx, job.id, template.id, planFrom(template.id, job.vehicle, { speedCapKmh: null }));
		const plan = template ? `\n\nThen please drive this plan and send the log: ${template.title}.` : '';
		const body = `R${draft.number} is ready for your car.\n\n${notes}${plan}`;
		await writeToCustomer(trx, app.mailer, job, author, body, {
			subject: `${job.title}: R${draft.number} is ready`
		});
	});
	app.mailer.wake();
}
