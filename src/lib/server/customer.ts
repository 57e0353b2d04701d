/** The customer's side: a link opens one job and nothing else. */
import { error } from '@sveltejs/kit';
import type { App } from './app.ts';
import { jobOfToken } from './links.ts';

/** The job behind a link, or one and the same answer for wrong, revoked and expired ones. */
export async function jobOfLink(app: App, token: string): Promise<number> {
	return (
		(await jobOfToken(app.db, token)) ??
		error(404, 'This link does not work any more. Ask your tuner for a new one.')
	);
}
