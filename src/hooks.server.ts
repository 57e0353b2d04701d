import {
	error,
	json,
	redirect,
	type Handle,
	type HandleServerError,
	type RequestEvent,
	type ServerInit
} from '@sveltejs/kit';
import { randomUUID } from 'node:crypto';
import { BodyTooLong, limited, limitOf } from '$lib/server/http/body-limit';
import { tunerOf, type Role } from '$lib/server/auth/accounts';
import { deedOf, refusedTo } from '$lib/server/auth/rights';
import { openRequestWait } from '$lib/server/auth/throttle';
import { themeFrom } from '$lib/server/http/preferences';
import { isFull, NO_ROOM } from '$lib/server/storage/disk-space';
import type { App } from '$lib/server/context';
import { closeApp, dataDirFromEnvironment, openApp } from '$lib/server/app';

let app: App;

/** What has not ended by then is ended; it is taken up at the next start. */
const STOP_WITHIN_MS = 9000;

export const init: ServerInit = async () => {
	try {
		app = await openApp(dataDirFromEnvironment());
	} catch (e) {
		// A sentence and an end, not a stack: this is read by whoever started it.
		process.stderr.write(`\nTanto did not start: ${e instanceof Error ? e.message : String(e)}\n\n`);
		process.exit(1);
	}
	// Nobody waits for these any more; the process goes on for all the others.
	process.on('unhandledRejection', (e) =>
		app.logger.error({ err: e }, 'a promise was rejected that nobody waited for')
	);
	// Behind a proxy every request comes from its address: who guesses once slows everybody down.
	if (process.env['ORIGIN']?.startsWith('https:') && !process.env['ADDRESS_HEADER'])
		process.stderr.write(
			'\nORIGIN says that a proxy stands before Tanto, and ADDRESS_HEADER is not set: all visitors count as one machine, and a few wrong passwords\nof one slow down all. Set ADDRESS_HEADER to the header in which the proxy writes the address (X-Forwarded-For, say).\n\n'
		);
	if (app.setupCode)
		process.stderr.write(
			`\nNobody has an account yet. Make the owner's at ${process.env['ORIGIN'] ?? ''}/setup?code=${app.setupCode}\n\n`
		);
	// adapter-node stops listening on SIGTERM and says so; the pool and the database have to go with it.
	process.once('sveltekit:shutdown', () => {
		const late = setTimeout(() => process.exit(0), STOP_WITHIN_MS);
		void closeApp(app).finally(() => {
			clearTimeout(late);
			process.exit(0);
		});
	});
};

/** Pages that need no account; everything else is closed unless a tuner is signed in. */
const WITHOUT_ACCOUNT = /^\/(sign-in|setup|forgotten|reset\/\[token\]|join\/\[token\]|c\/\[token\](\/.*)?)$/;

/** For whatever watches over the server: 200 while the database answers. Says nothing else. */
async function health(): Promise<Response> {
	try {
		await app.db.selectFrom('jobs').select('id').limit(1).executeTakeFirst();
		return new Response('ok', { headers: { 'cache-control': 'no-store' } });
	} catch (e) {
		app.logger.error({ err: e }, 'the database does not answer');
		return new Response('the database does not answer', { status: 503 });
	}
}

/** One line in the log for every fault, under the number that the page shows. */
export const handleError: HandleServerError = ({ error: e, event, status, message }) => {
	const tooLong = faultOf(e);
	if (tooLong) return { message: tooLong.message };
	if (status < 500) return { message };
	const id = randomUUID().slice(0, 8);
	if (isFull(e)) {
		app.logger.error({ err: e, id, route: event.route.id }, 'the disk is full');
		return { message: `${NO_ROOM[0]!.toUpperCase()}${NO_ROOM.slice(1)} (${id}).` };
	}
	app.logger.error({ err: e, id, method: event.request.method, route: event.route.id }, 'a request failed');
	return {
		message: `Something went wrong in Tanto. It is written down under ${id}; nothing was half stored.`
	};
};

/** A body that broke off at its limit, however deep in the cause it is told. */
function faultOf(e: unknown): BodyTooLong | null {
	for (let at: unknown = e; at instanceof Error; at = at.cause) if (at instanceof BodyTooLong) return at;
	return null;
}

/** A route that isn't there is answered like one that is closed: a stranger learns nothing from the difference. */
function turnAway(event: RequestEvent): Response {
	const { pathname, search } = event.url;
	if (pathname.startsWith('/api/'))
		return json({ message: 'Sign in first.' }, { status: 401, headers: { 'cache-control': 'no-store' } });
	if (app.setupCode !== null) redirect(303, '/setup');
	if (event.request.method !== 'GET') error(401, 'Your session has ended. Sign in and do it again.');
	redirect(303, `/sign-in?then=${encodeURIComponent(pathname + search)}`);
}

/** What somebody of this role may not do is refused before any of it is read. */
function refuseDeed({ route, request, url }: RequestEvent, role: Role): void {
	const deed = route.id === null ? null : deedOf(route.id, request.method, url.searchParams);
	const why = deed === null ? null : refusedTo(role, deed);
	if (why !== null) error(403, why);
}

export const handle: Handle = async ({ event, resolve }) => {
	event.locals.app = app;
	if (event.url.pathname === '/healthz') return health();
	event.locals.tuner = await tunerOf(app.auth, event.request, event.cookies);
	const open = event.route.id !== null && WITHOUT_ACCOUNT.test(event.route.id);
	if (!event.locals.tuner) {
		const wait = await openRequestWait(event.getClientAddress());
		if (wait > 0) error(429, `Too many requests. Wait ${wait} seconds and try again.`);
		if (!open) return turnAway(event);
	} else if (!open) refuseDeed(event, event.locals.tuner.role);
	if (!['GET', 'HEAD'].includes(event.request.method))
		event.request = limited(
			event.request,
			limitOf(event.route.id, event.locals.tuner !== null, event.url.searchParams)
		);
	const theme = themeFrom(event.cookies);
	const response = await resolve(event, {
		transformPageChunk: ({ html }) => html.replace('%tanto.theme%', theme === 'system' ? '' : theme),
		// Letters of the Latin alphabets are wanted on every page; those of others come when they are used.
		preload: ({ type, path }) =>
			type === 'js' || type === 'css' || (type === 'font' && path.includes('-latin-wght-'))
	});
	// What was shown to one person is kept nowhere that another can look, the history of a shared machine included.
	if (!response.headers.has('cache-control')) response.headers.set('cache-control', 'private, no-store');
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
