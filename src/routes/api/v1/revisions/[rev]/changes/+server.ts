import { error, json } from '@sveltejs/kit';
import { parseWith } from '$core/parse';
import { draftBodySchema } from '$lib/server/http/draft-body';
import { anyRevisionOr404, orJson } from '$lib/server/http/http';
import { ChangedElsewhere, saveChanges } from '$lib/server/revisions/revisions';
import type { RequestHandler } from './$types';

/** Replaces the changes of a draft; what isn't named stays. */
export const PUT: RequestHandler = async ({ params, request, locals }) =>
	orJson(async () => {
		const draft = await anyRevisionOr404(locals.app, params.rev);
		const { job, version, changes, edits, rejected } = parseWith(
			draftBodySchema,
			await request.json().catch(() => null)
		);
		if (draft.jobId !== job) error(404, 'There is no such revision in this job.');
		try {
			return json({ version: await saveChanges(locals.app.db, draft, changes, edits, version, rejected) });
		} catch (e) {
			if (!(e instanceof ChangedElsewhere)) throw e;
			const { stored } = e;
			return json(
				{
					message: e.message,
					version: stored.version,
					changes: stored.changes,
					edits: stored.edits,
					rejected: stored.rejected
				},
				{ status: 409 }
			);
		}
	});
