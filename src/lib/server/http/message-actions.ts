/** A note and a message as forms of a job send them; two pages have that form. */
import type { Tuner } from '$lib/server/auth/accounts.ts';
import type { App } from '$lib/server/context.ts';
import { field, jobOr404, orFail, tunerOr401 } from './http.ts';
import { askedByLink, addNote, toCustomer } from '$lib/server/jobs/messages.ts';
import { renewLink } from '$lib/server/jobs/links.ts';

interface JobEvent {
	params: { job: string };
	request: Request;
	locals: { app: App; tuner: Tuner | null };
}

export async function keepNote({ params, request, locals }: JobEvent) {
	const job = await jobOr404(locals.app, params.job);
	const body = field(await request.formData(), 'body');
	return orFail(
		async () => {
			await addNote(locals.app.db, job.id, tunerOr401(locals).name, body);
			return { noted: true };
		},
		{ body }
	);
}

export async function sendMessage({ params, request, locals }: JobEvent) {
	const job = await jobOr404(locals.app, params.job);
	const body = field(await request.formData(), 'body');
	return orFail(
		async () => {
			const notMailed = await toCustomer(locals.app, job, tunerOr401(locals).name, body);
			return { sent: true, notMailed };
		},
		{ body }
	);
}

/** A new link to the customer's page; the one before stops working. */
export async function makeLink({ params, locals }: Pick<JobEvent, 'params' | 'locals'>) {
	const job = await jobOr404(locals.app, params.job);
	await renewLink(locals.app.db, locals.app.dataDir, job.id);
	await askedByLink(locals.app.db, job.id);
	return { renewed: true };
}
