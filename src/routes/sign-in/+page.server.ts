import { fail, redirect } from '@sveltejs/kit';
import { signIn } from '$lib/server/auth/accounts';
import { signInTry, signInWorked } from '$lib/server/auth/throttle';
import { DEMO_TUNER } from '$lib/server/db/demo';
import { field } from '$lib/server/http/http';
import { withSpare } from '$lib/server/storage/spare-space';
import type { Actions, PageServerLoad } from './$types';

/** Where to go after signing in: a path of this site and nothing else. */
function target(url: URL): string {
	const then = url.searchParams.get('then') ?? '/';
	// Browsers drop tabs and line breaks inside an address: what is no plain path after that is none of ours.
	return /^\/(?![/\\])[^\u0000-\u0020\u007f\\]*$/.test(then) ? then : '/';
}

export const load: PageServerLoad = ({ locals, url }) => {
	if (locals.tuner) redirect(303, target(url));
	if (locals.app.setupCode !== null) redirect(303, '/setup');
	return { demo: locals.app.demo ? DEMO_TUNER.name : null };
};

export const actions: Actions = {
	password: async ({ request, cookies, locals, url, getClientAddress }) => {
		const data = await request.formData();
		const email = field(data, 'email').toLowerCase();
		const machine = getClientAddress();
		// Counted before it is tried: many at once are as many tries.
		const wait = await signInTry(machine, email);
		if (wait > 0)
			return fail(429, {
				email,
				message: `Too many attempts. Wait ${Math.ceil(wait / 60)} minutes and try again.`
			});
		const password = data.get('password');
		const { auth, dataDir } = locals.app;
		const given = typeof password === 'string' ? password : '';
		if (!(await withSpare(dataDir, () => signIn(auth, request, cookies, email, given))))
			return fail(400, { email, message: 'Address and password do not belong together.' });
		await signInWorked(machine, email);
		redirect(303, target(url));
	},
	demo: async ({ request, cookies, locals, url }) => {
		if (!locals.app.demo) return fail(400, { email: '', message: 'This is not the demo.' });
		if (!(await signIn(locals.app.auth, request, cookies, DEMO_TUNER.email, DEMO_TUNER.password)))
			return fail(400, { email: '', message: 'The demo world has no demo tuner; start it with --fresh.' });
		redirect(303, target(url));
	}
};
