import { attachmentsOf } from '$lib/server/attachments';
import { jobOr404 } from '$lib/server/http';
import { hasLink, renewLink } from '$lib/server/links';
import { logsOf, screeningOf } from '$lib/server/logs';
import { currentRevision, revisionsOf } from '$lib/server/revisions';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const logs = await logsOf(db, job.id);
	const revisions = await revisionsOf(db, job.id);
	const current = await currentRevision(db, job.id);
	const newest = logs.at(-1);
	const screening = newest?.state === 'screened' ? await screeningOf(db, newest.id) : null;
	return {
		logs,
		draft: revisions.find((r) => r.state === 'draft') ?? null,
		current,
		attachments: await attachmentsOf(db, current.id),
		newest: newest && screening ? { id: newest.id, name: newest.name, report: screening.report } : null,
		hasLink: await hasLink(db, job.id)
	};
};

export const actions: Actions = {
	link: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		return { token: await renewLink(locals.app.db, job.id) };
	}
};
