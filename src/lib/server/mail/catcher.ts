/** A mail server that delivers nothing: it takes mail in on this machine and keeps it where the tuner can read it. */
import { simpleParser } from 'mailparser';
import type { AddressInfo } from 'node:net';
import { SMTPServer } from 'smtp-server';
import type { Db } from '$lib/server/db/open.ts';

export interface Catcher {
	port: number;
	close(): Promise<void>;
}

const MAX_BYTES = 1 << 20;

export async function startCatcher(db: Db): Promise<Catcher> {
	const server = new SMTPServer({
		authOptional: true,
		disabledCommands: ['STARTTLS'],
		size: MAX_BYTES,
		onData(stream, session, done) {
			simpleParser(stream)
				.then(async (mail) => {
					await db
						.insertInto('caught_mails')
						.values({
							from_address: mail.from?.text ?? '',
							to_address: session.envelope.rcptTo.map((r) => r.address).join(', '),
							subject: mail.subject ?? '',
							body: mail.text ?? '',
							received_at: new Date().toISOString()
						})
						.execute();
					done();
				})
				.catch((e: unknown) => done(e instanceof Error ? e : new Error(String(e))));
		}
	});
	await new Promise<void>((resolve, reject) => {
		server.once('error', reject);
		server.listen(0, '127.0.0.1', resolve);
	});
	const port = (server.server.address() as AddressInfo).port;
	return { port, close: () => new Promise((resolve) => server.close(() => resolve())) };
}

export interface CaughtMail {
	id: number;
	from: string;
	to: string;
	subject: string;
	body: string;
	at: string;
}

export async function caughtMails(db: Db): Promise<CaughtMail[]> {
	return db
		.selectFrom('caught_mails')
		.select(['id', 'from_address as from', 'to_address as to', 'subject', 'body', 'received_at as at'])
		.orderBy('id', 'desc')
		.limit(200)
		.execute();
}
