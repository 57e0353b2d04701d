/** The customer's side: a link opens one job and nothing else. */
import { error } from '@sveltejs/kit';
import type { App } from '$lib/server/context.ts';
import { countWrongLink, wrongLinkWait } from '$lib/server/auth/throttle.ts';
import { jobOfToken } from '$lib/server/jobs/links.ts';

/** The job behind the link of a request, or one and the same answer for wrong, revoked and expired ones. */
export async function jobOfLink(event: {
	locals: { app: App };
	params: { token: string };
	getClientAddress: () => string;
}): Promise<number> {
	// A right link opens whatever the machine behind the same address tried before: wrong ones alone are counted and slowed down.
	const jobId = await jobOfToken(event.locals.app.db, event.params.token);
	if (jobId !== null) return jobId;
	const machine = event.getClientAddress();
	const wait = await wrongLinkWait(machine);
	if (wait > 0) error(429, `Too many wrong links. Wait ${Math.ceil(wait / 60)} minutes and try again.`);
	await countWrongLink(machine);
	error(404, 'This link does not work any more. Ask your tuner for a new one.');
}
