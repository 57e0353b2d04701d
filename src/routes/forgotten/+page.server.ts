import { fail } from '@sveltejs/kit';
import { addressFrom } from '$lib/server/http/account-form';
import { resetToken } from '$lib/server/auth/passwords';
import { RESET_MINUTES } from '$lib/server/auth/reset-token';
import { resetTry } from '$lib/server/auth/throttle';
import { field, orFail } from '$lib/server/http/http';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals }) => ({ mailOff: locals.app.mailer.off !== null });

export const actions: Actions = {
	default: async ({ request, locals, url, getClientAddress }) => {
		const { app } = locals;
		const data = await request.formData();
		if ((await resetTry(getClientAddress())) > 0)
			return fail(429, {
				message: 'Too many attempts. Wait a quarter of an hour and try again.',
				entered: { email: '' }
			});
		return orFail(
			async () => {
				const email = addressFrom(data);
				const token = app.mailer.off === null ? await resetToken(app.auth, email) : null;
				if (token) {
					await app.mailer.put(app.db, {
						jobId: null,
						to: email,
						subject: 'A new password for Tanto',
						body: `Somebody asked for a new password for this address. If that was you, set it here, within ${RESET_MINUTES} minutes:\n${url.origin}/reset/${token}\n\nIf it wasn't, nothing has changed.\n`
					});
					app.mailer.wake();
				}
				// The same whether there is such an account or not.
				return { asked: email };
			},
			{ email: field(data, 'email') }
		);
	}
};
