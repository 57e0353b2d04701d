import { titleOf } from '$core/calibration/items';
import { error, redirect } from '@sveltejs/kit';
import { TEMPLATES } from '$core/planning/templates';
import { customerNotes } from '$core/revising/customer-notes';
import { attachmentsOf, removeAttachment } from '$lib/server/revisions/attachments';
import { field, jobOr404, orFail, revisionOr404, releaserOf } from '$lib/server/http/http';
import { mailProblem, unreachable } from '$lib/server/jobs/messages';
import { examinedOf, releaseCheck } from '$lib/server/revisions/release-check';
import { replayOf } from '$lib/server/views/replays';
import { causesFor } from '$lib/server/jobs/swap-tests';
import { release } from '$lib/server/use-cases/release';
import { workshopSetting } from '$lib/server/jobs/workshop';
import type { Actions, PageServerLoad } from './$types';

const HOLD = 'hold:';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const draft = await revisionOr404(locals.app, job.id, params.rev);
	if (draft.state !== 'draft') error(404, `R${draft.number} is already released.`);
	const replayed = await replayOf(locals.app, draft);
	const check = await releaseCheck(db, draft, replayed);
	const notes = draft.notes || customerNotes(draft.changes, draft.edits, draft.calibration, job.vehicle);
	return {
		draft: { id: draft.id, number: draft.number },
		examined: await examinedOf(db, draft),
		check,
		replayed: replayed.replay !== null,
		replayProblem: replayed.problem,
		notes: [notes, ...check.cautions].filter(Boolean).join('\n\n'),
		attachments: await attachmentsOf(db, draft.id),
		/** Whether the tables go out as well, where nobody says otherwise. */
		offersTables: await workshopSetting(db, 'offersTables'),
		mailOff: mailProblem(locals.app.mailer, job),
		unreachable: await unreachable(db, locals.app.mailer, job),
		templates: TEMPLATES.map(({ id, title }) => ({ id, title })),
		/** What swap tests found, as the reason to begin with. */
		causes: await causesFor(db, job.id, check.holds),
		titles: Object.fromEntries(draft.calibration.items.map((i) => [i.id, titleOf(i)]))
	};
};

export const actions: Actions = {
	release: async ({ params, request, locals }) => {
		const { app } = locals;
		const job = await jobOr404(app, params.job);
		const draft = await revisionOr404(app, job.id, params.rev);
		const data = await request.formData();
		const notes = field(data, 'notes');
		const entered = Object.fromEntries(
			[...data].flatMap(([k, v]) => (typeof v === 'string' ? [[k, v.trim()] as const] : []))
		);
		const answers = Object.fromEntries(
			Object.entries(entered).flatMap(([k, v]) => (k.startsWith(HOLD) ? [[k.slice(HOLD.length), v]] : []))
		);
		const result = await orFail(async () => {
			const words = {
				notes,
				answers,
				author: releaserOf(locals).name,
				filesConfirmed: entered['confirmed'] === 'on',
				givesTables: entered['tables'] === 'on',
				examined: {
					contentHash: entered['contentHash'] ?? '',
					files: entered['files'] ?? '',
					findings: entered['findings'] ?? ''
				}
			};
			await release(app, job, draft, words, entered['template'] ?? '');
			return true;
		}, entered);
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
