import { caughtMails } from '$lib/server/mail/catcher';
import { NOT_KEPT, sendAgain } from '$lib/server/mail/mailer';
import { field, orFail } from '$lib/server/http/http';
import { InputError } from '$core/input-error';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	const { db, mailer } = locals.app;
	return {
		off: mailer.off,
		caught: mailer.caught,
		mails: mailer.caught ? await caughtMails(db) : [],
		failed: await db
			.selectFrom('mails')
			.select(['id', 'to_address as to', 'subject', 'error', 'created_at as at'])
			.select((e) => e('body', '!=', NOT_KEPT).as('kept'))
			.where('state', '=', 'failed')
			.orderBy('id', 'desc')
			.limit(100)
			.execute()
	};
};

export const actions: Actions = {
	again: async ({ request, locals }) => {
		const { db, mailer } = locals.app;
		const id = Number(field(await request.formData(), 'id'));
		return orFail(async () => {
			if (!(await sendAgain(db, id)))
				throw new InputError('this mail is on its way already, or its text was not kept');
			mailer.wake();
			return { again: true };
		});
	}
};
