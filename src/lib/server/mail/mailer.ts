/**
 * Mail is written down first, in the transaction of what it tells of, and sent from there by a loop that tries again and goes on after a
 * start. It goes out through SMTP as set in the environment (`TANTO_SMTP_URL`, `TANTO_MAIL_FROM`). In the demo a catcher on this
 * machine takes it in instead, where the tuner can read it.
 */
import { Readable } from 'node:stream';
import { createTransport, type Transporter } from 'nodemailer';
import type { Logger } from 'pino';
import type { Db } from '$lib/server/db/open.ts';
import { startCatcher, type Catcher } from './catcher.ts';

export interface NewMail {
	/** `null` for one that belongs to no job; its text is forgotten once it is sent or given up. */
	jobId: number | null;
	to: string;
	subject: string;
	body: string;
}

export interface Mailer {
	/** Why no mail can go out; `null` when it can. */
	off: string | null;
	/** Whether mail ends in the catcher. */
	caught: boolean;
	/** Writes a mail down, inside whatever transaction `db` is; it goes out after `wake`. Returns its id. */
	put(db: Db, mail: NewMail, now?: Date): Promise<number>;
	/** Says that there may be something to send; returns at once. */
	wake(): void;
	/** Resolves when nothing is due any more. */
	idle(): Promise<void>;
	close(): Promise<void>;
}

/** Waits between the tries, in seconds; after the last of them a mail is given up, with a word in its job. */
const PAUSES_S = [10, 60, 300, 1800, 7200, 21_600];
export const NOT_KEPT = '(not kept)';
/** Whether it arrived can't be told: it goes out again only when somebody says so. */
const PERHAPS_SENT =
	'the server stopped while this mail was handed over: it may have arrived. Send it again if it didn’t';
/** Mails that are due are looked for this often. */
const LOOK_MS = 5000;

/** Puts a mail that did not go out, or perhaps did, into the queue again. @returns whether there is one that can be sent again */
export async function sendAgain(db: Db, id: number, now = new Date()): Promise<boolean> {
	const { numUpdatedRows } = await db
		.updateTable('mails')
		.set({ state: 'waiting', attempts: 0, error: null, handed_at: null, next_at: now.toISOString() })
		.where('id', '=', id)
		.where('state', '=', 'failed')
		.where('body', '!=', NOT_KEPT)
		.executeTakeFirstOrThrow();
	return numUpdatedRows > 0n;
}

/** One line: a line break in an address or a subject would begin a header of its own. */
export function oneLine(text: string): string {
	return text.replace(/[\r\n\t\u0000-\u001f\u007f\u2028\u2029]+/g, ' ').trim();
}

export async function openMailer(
	db: Db,
	logger: Logger,
	demo: boolean,
	url = process.env['TANTO_SMTP_URL']
): Promise<Mailer> {
	const from = process.env['TANTO_MAIL_FROM'] ?? 'Tanto <tanto@localhost>';
	let catcher: Catcher | null = null;
	let transport: Transporter | null = null;
	if (url)
		transport = createTransport(url, {
			disableFileAccess: true,
			disableUrlAccess: true,
			connectionTimeout: 15_000,
			greetingTimeout: 15_000,
			socketTimeout: 30_000
		} as never);
	else if (demo) {
		catcher = await startCatcher(db);
		transport = createTransport({ host: '127.0.0.1', port: catcher.port, secure: false, ignoreTLS: true });
	}
	// The last bytes of a mail leave only when it is written down that they do: of all moments in which the server may stop, one of a few
	// milliseconds is left in which nobody can tell whether the mail arrived.
	transport?.use('stream', (mail, done) => {
		const { beforeEnd } = mail.data as { beforeEnd?: () => Promise<void> };
		if (beforeEnd) {
			const { message } = mail;
			const whole = message.createReadStream.bind(message);
			// Nothing of it is read before the mail server asks for it.
			message.createReadStream = () =>
				Readable.from(
					(async function* () {
						yield* whole() as AsyncIterable<Buffer>;
						await beforeEnd();
					})(),
					{ objectMode: false, highWaterMark: 1 }
				) as ReturnType<typeof whole>;
		}
		done();
	});
	if (transport)
		await db
			.updateTable('mails')
			.set({ state: 'failed', error: PERHAPS_SENT })
			.where('state', '=', 'waiting')
			.where('handed_at', 'is not', null)
			.execute();
	const off = transport ? null : 'no mail server is set (TANTO_SMTP_URL); send the text yourself';

	async function sendOne(mail: {
		id: number;
		to: string;
		subject: string;
		body: string;
		attempts: number;
		jobId: number | null;
		/** When it was written. */
		at: string;
	}) {
		const forgotten = mail.jobId === null ? { body: NOT_KEPT } : {};
		try {
			await transport!.sendMail({
				from,
				to: mail.to,
				// The same at every try: a second copy is the same mail to whoever receives it.
				messageId: `<${mail.id}.${mail.at.replace(/\D/g, '')}@tanto>`,
				subject: mail.subject,
				text: mail.body,
				beforeEnd: async () => {
					const handed_at = new Date().toISOString();
					await db.updateTable('mails').set({ handed_at }).where('id', '=', mail.id).execute();
				},
				disableFileAccess: true,
				disableUrlAccess: true
			} as Parameters<Transporter['sendMail']>[0]);
			await db
				.updateTable('mails')
				.set({ state: 'sent', sent_at: new Date().toISOString(), error: null, ...forgotten })
				.where('id', '=', mail.id)
				.execute();
		} catch (e) {
			const error = e instanceof Error ? e.message : String(e);
			logger.warn({ err: e, mailId: mail.id, attempt: mail.attempts + 1 }, 'a mail did not go out');
			const pause = PAUSES_S[mail.attempts];
			await db
				.updateTable('mails')
				.set({
					attempts: mail.attempts + 1,
					error,
					handed_at: null,
					...(pause === undefined
						? { state: 'failed' as const, ...forgotten }
						: { next_at: new Date(Date.now() + pause * 1000).toISOString() })
				})
				.where('id', '=', mail.id)
				.execute();
		}
	}
	async function sendDue() {
		for (;;) {
			if (closed) return;
			const now = Date.now();
			// One that waits longer than any pause lasts was put off before the clock went back.
			const latest = new Date(now + PAUSES_S.at(-1)! * 1000).toISOString();
			const due = await db
				.selectFrom('mails')
				.select([
					'id',
					'to_address as to',
					'subject',
					'body',
					'attempts',
					'job_id as jobId',
					'created_at as at'
				])
				.where('state', '=', 'waiting')
				.where((e) => e.or([e('next_at', '<=', new Date(now).toISOString()), e('next_at', '>', latest)]))
				.orderBy('id')
				.executeTakeFirst();
			if (!due) return;
			await sendOne(due);
		}
	}
	let closed = false;
	let work: Promise<void> = Promise.resolve();
	let queued = false;
	function wake() {
		if (!transport || closed || queued) return;
		queued = true;
		work = work.then(() => {
			queued = false;
			return sendDue().catch((e: unknown) => logger.error({ err: e }, 'mails could not be sent'));
		});
	}
	const timer = setInterval(wake, LOOK_MS);
	timer.unref();
	wake();
	return {
		off,
		caught: catcher !== null,
		async put(trx, { jobId, to, subject, body }, now = new Date()) {
			const at = now.toISOString();
			const { insertId } = await trx
				.insertInto('mails')
				.values({
					job_id: jobId,
					to_address: oneLine(to),
					subject: oneLine(subject),
					body: off !== null && jobId === null ? NOT_KEPT : body,
					state: off === null ? 'waiting' : 'failed',
					error: off,
					created_at: at,
					next_at: at
				})
				.executeTakeFirstOrThrow();
			return Number(insertId);
		},
		wake,
		idle: async () => {
			wake();
			await work;
		},
		async close() {
			closed = true;
			clearInterval(timer);
			transport?.close();
			// One that is on its way is given a moment; it is written down either way.
			await Promise.race([work, new Promise((r) => setTimeout(r, 2000).unref())]);
			await catcher?.close();
		}
	};
}
