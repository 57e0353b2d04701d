import { jobOr404 } from '$lib/server/http/http';
import { linkOf, revokeLinks } from '$lib/server/jobs/links';
import { keepNote, makeLink, sendMessage } from '$lib/server/http/message-actions';
import { mailProblem, messagesOf, unreachable } from '$lib/server/jobs/messages';
import { currentRevision } from '$lib/server/revisions/revisions';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db, dataDir, mailer } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const link = await linkOf(db, dataDir, job.id);
	return {
		messages: (await messagesOf(db, job.id)).reverse(),
		mailOff: mailProblem(mailer, job),
		unreachable: await unreachable(db, mailer, job),
		current: (await currentRevision(db, job.id)).number,
		link: link && { until: link.until, address: link.token ? `/c/${link.token}` : null }
	};
};

export const actions: Actions = {
	note: (event) => keepNote(event),
	message: (event) => sendMessage(event),
	link: (event) => makeLink(event),
	revoke: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		await revokeLinks(locals.app.db, job.id);
	}
};
