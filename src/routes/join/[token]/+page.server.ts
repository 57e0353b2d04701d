import { error, redirect } from '@sveltejs/kit';
import { invitedFrom } from '$lib/server/http/account-form';
import { signIn } from '$lib/server/auth/accounts';
import { accept, invitationOf } from '$lib/server/auth/invitations';
import { countWrongLink, wrongLinkWait } from '$lib/server/auth/throttle';
import { field, orFail } from '$lib/server/http/http';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals, getClientAddress }) => {
	if ((await wrongLinkWait(getClientAddress())) > 0) error(429, 'Too many attempts. Try again later.');
	const invitation = await invitationOf(locals.app.db, params.token);
	if (!invitation) {
		await countWrongLink(getClientAddress());
		error(404, 'This invitation does not work any more. Ask for a new one.');
	}
	return { email: invitation.email };
};

export const actions: Actions = {
	default: async ({ params, request, cookies, locals }) => {
		const { db, auth } = locals.app;
		const data = await request.formData();
		const result = await orFail(
			async () => {
				const { name, password } = invitedFrom(data);
				const email = await accept(db, auth, params.token, name, password);
				await signIn(auth, request, cookies, email, password);
				return true;
			},
			{ name: field(data, 'name') }
		);
		if (result !== true) return result;
		redirect(303, '/');
	}
};
