import { caughtMails } from '$lib/server/mail/catcher';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	const { db, mailer } = locals.app;
	return {
		off: mailer.off,
		caught: mailer.caught,
		mails: mailer.caught ? await caughtMails(db) : [],
		failed: await db
			.selectFrom('mails')
			.select(['id', 'to_address as to', 'subject', 'error', 'created_at as at'])
			.where('state', '=', 'failed')
			.orderBy('id', 'desc')
			.limit(100)
			.execute()
	};
};
