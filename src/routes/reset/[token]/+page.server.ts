import { error, redirect } from '@sveltejs/kit';
import { newPasswordFrom } from '$lib/server/http/account-form';
import { resetPassword } from '$lib/server/auth/passwords';
import { countWrongLink, wrongLinkWait } from '$lib/server/auth/throttle';
import { orFail } from '$lib/server/http/http';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = () => ({});

export const actions: Actions = {
	default: async ({ params, request, locals, getClientAddress }) => {
		const machine = getClientAddress();
		if ((await wrongLinkWait(machine)) > 0) error(429, 'Too many attempts. Try again later.');
		const data = await request.formData();
		const result = await orFail(async () => {
			const password = newPasswordFrom(data);
			await countWrongLink(machine);
			await resetPassword(locals.app.auth, params.token, password);
			return true;
		});
		if (result !== true) return result;
		redirect(303, '/sign-in?changed=1');
	}
};
