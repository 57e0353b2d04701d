import { redirect } from '@sveltejs/kit';
import { attachmentsOf } from '$lib/server/attachments';
import { jobOr404, orFail, revisionOr404 } from '$lib/server/http';
import { createDraft, discardDraft, revision, revisionsOf } from '$lib/server/revisions';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const rev = await revisionOr404(locals.app, job.id, params.rev);
	const parent = rev.parentId === null ? null : await revision(db, rev.parentId);
	const lines = await revisionsOf(db, job.id);
	return {
		rev,
		parent: parent ? { id: parent.id, number: parent.number, calibration: parent.calibration } : null,
		attachments: await attachmentsOf(db, rev.id),
		draft: lines.find((l) => l.state === 'draft') ?? null
	};
};

export const actions: Actions = {
	/** A draft by hand, without a log behind it. */
	draft: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const rev = await revisionOr404(locals.app, job.id, params.rev);
		const result = await orFail(() => createDraft(locals.app.db, rev, null, []));
		if (typeof result !== 'number') return result;
		redirect(303, `/jobs/${job.id}/revisions/${result}`);
	},
	discard: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const rev = await revisionOr404(locals.app, job.id, params.rev);
		const result = await orFail(async () => {
			await discardDraft(locals.app.db, rev);
			return true;
		});
		if (result !== true) return result;
		redirect(303, `/jobs/${job.id}`);
	}
};
