import { error, redirect } from '@sveltejs/kit';
import { attachmentsOf, removeAttachment } from '$lib/server/attachments';
import { field, jobOr404, orFail, revisionOr404 } from '$lib/server/http';
import { setWaiting } from '$lib/server/jobs';
import { notesFrom, release, releaseCheck } from '$lib/server/revisions';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const draft = await revisionOr404(locals.app, job.id, params.rev);
	if (draft.state !== 'draft') error(404, `R${draft.number} is already released.`);
	return {
		draft: { id: draft.id, number: draft.number },
		check: await releaseCheck(db, draft),
		notes: draft.notes || notesFrom(draft),
		attachments: await attachmentsOf(db, draft.id),
		titles: Object.fromEntries(draft.calibration.items.map((i) => [i.id, i.title ?? i.id]))
	};
};

export const actions: Actions = {
	release: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const draft = await revisionOr404(locals.app, job.id, params.rev);
		const data = await request.formData();
		const notes = field(data, 'notes');
		const reason = field(data, 'reason');
		const result = await orFail(
			async () => {
				await release(locals.app.db, draft, notes, reason || null);
				await setWaiting(locals.app.db, job.id, 'customer');
				return true;
			},
			{ notes, reason }
		);
		if (result !== true) return result;
		redirect(303, `/jobs/${job.id}`);
	},
	detach: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const draft = await revisionOr404(locals.app, job.id, params.rev);
		const id = Number(field(await request.formData(), 'id'));
		const result = await orFail(async () => {
			await removeAttachment(locals.app.db, draft, id);
			return true;
		});
		return result === true ? undefined : result;
	}
};
