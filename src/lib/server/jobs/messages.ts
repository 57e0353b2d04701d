/** Notes and messages on the timeline of a job. A note stays with the tuners; a message goes to the customer, by mail where there is one. */
import type { AdviceKind } from '$core/screening/check.ts';
import { InputError } from '$core/input-error.ts';
import type { Db } from '$lib/server/db/open.ts';
import { setWaiting, type JobView } from './jobs.ts';
import { hasLink } from './links.ts';
import type { Mailer } from '$lib/server/mail/mailer.ts';
import type { PlacedEvent } from './timeline-event.ts';

const MAX_LENGTH = 8000;
/** Reasons and closing words go out within a message; they are refused before anything is stored, not after. */
export const WORDS_LENGTH = 2000;

/** What a reply asks for that is no calibration. */
export const ADVICE = {
	repair: 'a repair',
	part: 'a part',
	fuel: 'another fuel',
	log: 'another log',
	other: 'something else'
} as const satisfies Record<AdviceKind, string>;

export interface Message {
	id: number;
	kind: 'note' | 'to-customer' | 'from-customer';
	author: string;
	body: string;
	at: string;
	logId: number | null;
	advice: AdviceKind | null;
	/** How the mail ended; `null` for what wasn't mailed. */
	mail: { state: 'waiting' | 'sent' | 'failed'; error: string | null } | null;
}

function checked(body: string): string {
	const text = body.trim();
	if (text === '') throw new InputError('write something first', 'Message');
	if (text.length > MAX_LENGTH) throw new InputError(`at most ${MAX_LENGTH} characters`, 'Message');
	return text;
}

async function insert(
	db: Db,
	jobId: number,
	kind: Message['kind'],
	author: string,
	body: string,
	more: { mailId?: number; logId?: number; advice?: AdviceKind; now?: Date } = {}
): Promise<number> {
	const { insertId } = await db
		.insertInto('messages')
		.values({
			job_id: jobId,
			kind,
			author,
			body,
			log_id: more.logId ?? null,
			mail_id: more.mailId ?? null,
			advice: more.advice ?? null,
			created_at: (more.now ?? new Date()).toISOString()
		})
		.executeTakeFirstOrThrow();
	return Number(insertId);
}

/** @throws InputError when it is empty or far too long */
export async function addNote(
	db: Db,
	jobId: number,
	author: string,
	body: string,
	now = new Date()
): Promise<number> {
	return insert(db, jobId, 'note', author, checked(body), { now });
}

/**
 * A problem that nobody recorded, in the customer's words; the tuner has to look at it.
 * @throws InputError when it is empty or far too long
 */
export async function reportProblem(
	db: Db,
	job: Pick<JobView, 'id' | 'customer'>,
	words: string
): Promise<void> {
	const text = checked(words);
	await db.transaction().execute(async (trx) => {
		await insert(trx, job.id, 'from-customer', job.customer, `A problem, not recorded: ${text}`);
		await setWaiting(trx, job.id, 'tuner');
	});
}

/** @throws InputError when it is empty or far too long */
export async function fromCustomer(
	db: Db,
	jobId: number,
	author: string,
	body: string,
	logId?: number
): Promise<number> {
	return insert(db, jobId, 'from-customer', author, checked(body), logId === undefined ? {} : { logId });
}

/**
 * The message and, where an address is known, its mail: written down together, inside whatever transaction `db` is. The next step is
 * the customer's then, where they can be reached at all.
 * @param more.asks false for a word that leaves the next step where it is
 */
export async function writeToCustomer(
	db: Db,
	mailer: Pick<Mailer, 'put' | 'off'>,
	job: Pick<JobView, 'id' | 'title' | 'email'>,
	author: string,
	body: string,
	more: { logId?: number; subject?: string; advice?: AdviceKind; asks?: false } = {}
): Promise<void> {
	const text = checked(body);
	const mailId = job.email
		? await mailer.put(db, {
				jobId: job.id,
				to: job.email,
				subject: more.subject ?? job.title,
				body: `${text}\n\n${author}`
			})
		: undefined;
	await insert(db, job.id, 'to-customer', author, text, {
		...(mailId === undefined ? {} : { mailId }),
		...(more.logId === undefined ? {} : { logId: more.logId }),
		...(more.advice ? { advice: more.advice } : {})
	});
	if (more.asks ?? true)
		await setWaiting(db, job.id, (await unreachable(db, mailer, job)) ? 'tuner' : 'customer');
}

/**
 * Why a customer would never know of a message: no mail goes out and no link is open. `null` when one of both reaches them.
 * Who can't be reached is never counted as asked: the next step stays the tuner's.
 */
export async function unreachable(
	db: Db,
	mailer: Pick<Mailer, 'off'>,
	job: Pick<JobView, 'id' | 'email'>
): Promise<string | null> {
	const why = mailProblem(mailer, job);
	return why === null || (await hasLink(db, job.id)) ? null : `${why}, and there is no link to their page`;
}

/** Why no mail goes to the customer of a job; `null` where it does. */
export const mailProblem = (mailer: Pick<Mailer, 'off'>, job: Pick<JobView, 'email'>): string | null =>
	job.email ? mailer.off : 'no mail address of this customer is known';

/** A link is made and handed over: whatever was written last has been asked by it. */
export async function askedByLink(db: Db, jobId: number): Promise<void> {
	const said = (await messagesOf(db, jobId)).findLast((m) => m.kind !== 'note');
	const log = await db
		.selectFrom('logs')
		.select((e) => e.fn.max('received_at').as('at'))
		.where('job_id', '=', jobId)
		.executeTakeFirst();
	if (said?.kind === 'to-customer' && said.at > (log?.at ?? '')) await setWaiting(db, jobId, 'customer');
}

/**
 * Writes to the customer. It stands on the customer's page in any case; where an address is known it is mailed as well, by and by.
 * @returns why no mail goes out; `null` when it does
 */
export async function toCustomer(
	app: { db: Db; mailer: Mailer },
	job: Pick<JobView, 'id' | 'title' | 'email'>,
	author: string,
	body: string,
	more: { logId?: number; subject?: string; advice?: AdviceKind } = {}
): Promise<string | null> {
	await app.db.transaction().execute((trx) => writeToCustomer(trx, app.mailer, job, author, body, more));
	app.mailer.wake();
	return job.email ? app.mailer.off : 'no mail address of this customer is known';
}

export async function messagesOf(db: Db, jobId: number): Promise<Message[]> {
	const rows = await db
		.selectFrom('messages')
		.leftJoin('mails', 'mails.id', 'messages.mail_id')
		.select([
			'messages.id',
			'messages.kind',
			'messages.author',
			'messages.body',
			'messages.created_at as at',
			'messages.log_id as logId',
			'messages.advice',
			'mails.state',
			'mails.error'
		])
		.where('messages.job_id', '=', jobId)
		.orderBy('messages.id')
		.execute();
	return rows.map(({ state, error, ...m }) => ({ ...m, mail: state ? { state, error } : null }));
}

const KIND_TITLES: Record<Message['kind'], string> = {
	note: 'Note',
	'to-customer': 'To the customer',
	'from-customer': 'From the customer'
};
/** Of a long message the timeline shows the beginning. */
const SHOWN = 90;

/** Notes and messages, for the timeline. */
export async function messageEvents(db: Db, jobId: number): Promise<PlacedEvent[]> {
	const rows = await db
		.selectFrom('messages')
		.innerJoin('timeline', (on) =>
			on.onRef('timeline.ref', '=', 'messages.id').on('timeline.kind', '=', 'message')
		)
		.select(['id', 'messages.kind', 'body', 'created_at', 'advice', 'n'])
		.where('job_id', '=', jobId)
		.execute();
	return rows.map((m) => ({
		n: m.n,
		kind: 'message',
		id: m.id,
		label: m.advice ? `Advice: ${ADVICE[m.advice]}` : KIND_TITLES[m.kind],
		at: m.created_at,
		state: m.kind,
		detail: m.body.length > SHOWN ? `${m.body.slice(0, SHOWN - 1)}…` : m.body
	}));
}
