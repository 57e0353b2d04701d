import { redirect } from '@sveltejs/kit';
import { attachmentsOf } from '$lib/server/revisions/attachments';
import { handedOut, handTables } from '$lib/server/revisions/handed-out';
import { field, jobOr404, orFail, releaserOf, revisionOr404 } from '$lib/server/http/http';
import { logLine } from '$lib/server/logs/logs';
import type { Db } from '$lib/server/db/open';
import { logBehind } from '$lib/server/jobs/newest-log';
import { eventsOf, holdAnswersOf } from '$lib/server/revisions/revision-events';
import { createDraft, discardDraft, revision, revisionsOf } from '$lib/server/revisions/revisions';
import { tableProofsOf } from '$lib/server/revisions/table-proofs';
import { withdraw } from '$lib/server/use-cases/withdraw';
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
		givenTables: (await handedOut(db, rev)).tables,
		proofs: (await tableProofsOf(db, rev)).map((p) => ({
			match: p.result.match,
			stale: p.stale,
			author: p.author,
			at: p.at
		})),
		holdAnswers: await holdAnswersOf(db, rev.id),
		events: await eventsOf(db, rev.id),
		draft: lines.find((l) => l.state === 'draft') ?? null,
		// The log that the proposal came from, else the newest one made with what this stands on.
		lastLog: await titled(db, await logBehind(db, rev))
	};
};

/** A log by what people call it. */
async function titled(db: Db, log: { id: number } | null) {
	const line = log && (await logLine(db, log.id));
	return line && { id: line.id, name: line.title };
}

export const actions: Actions = {
	/** A draft by hand, without a log behind it. */
	draft: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const rev = await revisionOr404(locals.app, job.id, params.rev);
		const result = await orFail(() => createDraft(locals.app.db, rev, null, []));
		if (typeof result !== 'number') return result;
		redirect(303, `/jobs/${job.id}/revisions/${result}`);
	},
	/** Takes a released revision back: it stays in the record, the customer is told. */
	withdraw: async ({ params, request, locals }) => {
		const { app } = locals;
		const job = await jobOr404(app, params.job);
		const rev = await revisionOr404(app, job.id, params.rev);
		const reason = field(await request.formData(), 'reason');
		return orFail(async () => {
			await withdraw(app, job, rev, releaserOf(locals).name, reason);
			return { withdrawn: true };
		});
	},
	/** Opens the tables of a released revision to the customer, or closes them again. */
	tables: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const rev = await revisionOr404(locals.app, job.id, params.rev);
		const open = field(await request.formData(), 'open') === 'yes';
		return orFail(async () => {
			await handTables(locals.app.db, rev, open, releaserOf(locals).name);
			return { handed: true };
		});
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
