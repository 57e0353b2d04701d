import { redirect } from '@sveltejs/kit';
import { ownerFrom } from '$lib/server/http/account-form';
import { createTuner, hasTuners, signIn } from '$lib/server/auth/accounts';
import { signInTry } from '$lib/server/auth/throttle';
import { field, orFail } from '$lib/server/http/http';
import { InputError } from '$core/input-error';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals, url }) => {
	if (locals.app.setupCode === null) redirect(303, '/');
	return { code: url.searchParams.get('code') ?? '' };
};

export const actions: Actions = {
	default: async ({ request, cookies, locals, getClientAddress }) => {
		const { app } = locals;
		const data = await request.formData();
		const entered = { name: field(data, 'name'), email: field(data, 'email'), code: field(data, 'code') };
		const result = await orFail(async () => {
			// Whoever reads the server's messages may make the owner; whoever merely finds the page may not.
			const machine = getClientAddress();
			if ((await signInTry(machine, 'setup')) > 0)
				throw new InputError('too many attempts; wait a quarter of an hour');
			if (app.setupCode === null || entered.code !== app.setupCode)
				throw new InputError('this is not the code that the server printed when it started', 'Code');
			const owner = ownerFrom(data);
			// The code is taken before anything is waited for: of many at once one makes the owner.
			const code = app.setupCode;
			app.setupCode = null;
			try {
				if (await hasTuners(app.db)) throw new InputError('there is an owner already; sign in instead');
				await createTuner(app.auth, { ...owner, role: 'owner' });
			} catch (e) {
				if (!(await hasTuners(app.db))) app.setupCode = code;
				throw e;
			}
			await signIn(app.auth, request, cookies, owner.email, owner.password);
			return true;
		}, entered);
		if (result !== true) return result;
		redirect(303, '/');
	}
};
