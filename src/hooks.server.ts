import type { Handle, ServerInit } from '@sveltejs/kit';
import { themeFrom } from '$lib/server/preferences';
import { closeApp, dataDirFromEnvironment, openApp, type App } from '$lib/server/app';

let app: App;

export const init: ServerInit = async () => {
	app = await openApp(dataDirFromEnvironment());
	// adapter-node stops listening on SIGTERM and says so; the pool and the database have to go with it.
	process.once('sveltekit:shutdown', () => void closeApp(app));
};

export const handle: Handle = async ({ event, resolve }) => {
	event.locals.app = app;
	const theme = themeFrom(event.cookies);
	const response = await resolve(event, {
		transformPageChunk: ({ html }) => html.replace('%tanto.theme%', theme === 'system' ? '' : theme)
	});
	response.headers.set('x-content-type-options', 'nosniff');
	response.headers.set('referrer-policy', 'same-origin');
	response.headers.set('x-frame-options', 'DENY');
	return response;
};
