import { error, json, redirect, type Handle, type RequestEvent, type ServerInit } from '@sveltejs/kit';
import { tunerOf } from '$lib/server/auth/accounts';
import { openRequestWait } from '$lib/server/auth/throttle';
import { themeFrom } from '$lib/server/preferences';
import { closeApp, dataDirFromEnvironment, openApp, type App } from '$lib/server/app';

let app: App;

export const init: ServerInit = async () => {
	app = await openApp(dataDirFromEnvironment());
	if (app.setupCode)
		process.stderr.write(
			`\nNobody has an account yet. Make the owner's at ${process.env['ORIGIN'] ?? ''}/setup?code=${app.setupCode}\n\n`
		);
	// adapter-node stops listening on SIGTERM and says so; the pool and the database have to go with it.
	process.once('sveltekit:shutdown', () => void closeApp(app));
};

/** Pages that need no account; everything else is closed unless a tuner is signed in. */
const WITHOUT_ACCOUNT = /^\/(sign-in|setup|join\/\[token\]|c\/\[token\](\/.*)?)$/;

/** A route that isn't there is answered like one that is closed: a stranger learns nothing from the difference. */
function turnAway(event: RequestEvent): Response {
	const { pathname, search } = event.url;
	if (pathname.startsWith('/api/'))
		return json({ message: 'Sign in first.' }, { status: 401, headers: { 'cache-control': 'no-store' } });
	if (app.setupCode !== null) redirect(303, '/setup');
	if (event.request.method !== 'GET') error(401, 'Your session has ended. Sign in and do it again.');
	redirect(303, `/sign-in?then=${encodeURIComponent(pathname + search)}`);
}

export const handle: Handle = async ({ event, resolve }) => {
	event.locals.app = app;
	event.locals.tuner = await tunerOf(app.auth, event.request, event.cookies);
	const open = event.route.id !== null && WITHOUT_ACCOUNT.test(event.route.id);
	if (!event.locals.tuner) {
		const wait = await openRequestWait(event.getClientAddress());
		if (wait > 0) error(429, `Too many requests. Wait ${wait} seconds and try again.`);
		if (!open) return turnAway(event);
	}
	const theme = themeFrom(event.cookies);
	const response = await resolve(event, {
		transformPageChunk: ({ html }) => html.replace('%tanto.theme%', theme === 'system' ? '' : theme)
	});
	response.headers.set('x-content-type-options', 'nosniff');
	// The customer's address is a key: it goes into no referrer, not even to pages of our own.
	response.headers.set('referrer-policy', event.route.id?.startsWith('/c/') ? 'no-referrer' : 'same-origin');
	response.headers.set('x-frame-options', 'DENY');
	response.headers.set('cross-origin-opener-policy', 'same-origin');
	response.headers.set('cross-origin-resource-policy', 'same-origin');
	response.headers.set('permissions-policy', 'camera=(), microphone=(), geolocation=()');
	if (event.url.protocol === 'https:') response.headers.set('strict-transport-security', 'max-age=31536000');
	return response;
};
