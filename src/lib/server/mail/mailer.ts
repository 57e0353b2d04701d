/**
 * Mail goes out through SMTP as set in the environment (`TANTO_SMTP_URL`, `TANTO_MAIL_FROM`). In the demo a catcher on this
 * machine takes it in instead, where the tuner can read it. Each mail is stored before it is sent and knows how that ended.
 */
import { createTransport, type Transporter } from 'nodemailer';
import type { Logger } from 'pino';
import type { Db } from '../db/open.ts';
import { startCatcher, type Catcher } from './catcher.ts';

export interface Mailer {
	/** Why no mail can go out; `null` when it can. */
	off: string | null;
	/** Whether mail ends in the catcher. */
	caught: boolean;
	/** Stores a mail and sends it. Resolves with its id and, when it did not go out, the reason; never throws for the mail's sake. */
	send(mail: {
		jobId: number | null;
		to: string;
		subject: string;
		body: string;
	}): Promise<{ id: number; error: string | null }>;
	close(): Promise<void>;
}

/** One line: a line break in an address or a subject would begin a header of its own. */
export function oneLine(text: string): string {
	return text.replace(/[\r\n\t\u0000-\u001f\u007f\u2028\u2029]+/g, ' ').trim();
}

export async function openMailer(db: Db, logger: Logger, demo: boolean): Promise<Mailer> {
	const url = process.env['TANTO_SMTP_URL'];
	const from = process.env['TANTO_MAIL_FROM'] ?? 'Tanto <tanto@localhost>';
	let catcher: Catcher | null = null;
	let transport: Transporter | null = null;
	if (url) transport = createTransport(url, { disableFileAccess: true, disableUrlAccess: true });
	else if (demo) {
		catcher = await startCatcher(db);
		transport = createTransport({ host: '127.0.0.1', port: catcher.port, secure: false, ignoreTLS: true });
	}
	const off = transport ? null : 'no mail server is set (TANTO_SMTP_URL); send the text yourself';
	return {
		off,
		caught: catcher !== null,
		async send({ jobId, to, subject, body }) {
			const mail = { to: oneLine(to), subject: oneLine(subject), text: body };
			const { insertId } = await db
				.insertInto('mails')
				.values({
					job_id: jobId,
					to_address: mail.to,
					subject: mail.subject,
					body,
					state: 'waiting',
					created_at: new Date().toISOString()
				})
				.executeTakeFirstOrThrow();
			const id = Number(insertId);
			let error = off;
			if (transport)
				try {
					await transport.sendMail({ from, ...mail, disableFileAccess: true, disableUrlAccess: true });
				} catch (e) {
					error = e instanceof Error ? e.message : String(e);
					logger.warn({ err: e, mailId: id }, 'a mail did not go out');
				}
			await db
				.updateTable('mails')
				.set(
					error === null ? { state: 'sent', sent_at: new Date().toISOString() } : { state: 'failed', error }
				)
				.where('id', '=', id)
				.execute();
			return { id, error };
		},
		async close() {
			transport?.close();
			await catcher?.close();
		}
	};
}
