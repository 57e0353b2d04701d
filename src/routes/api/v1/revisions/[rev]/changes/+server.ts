import { error, json } from '@sveltejs/kit';
import { z } from 'zod';
import { parseWith } from '$core/parse';
import { draftEditSchema } from '$core/revising/edits';
import { draftChangeSchema } from '$core/revising/revise';
import { anyRevisionOr404, orJson } from '$lib/server/http';
import { ChangedElsewhere, saveChanges } from '$lib/server/revisions';
import type { RequestHandler } from './$types';

const body = z.object({
	/** The job that the draft is of, and the version that these changes were made on: a stale page names others. */
	job: z.number().int(),
	version: z.number().int().min(0),
	changes: z.array(draftChangeSchema).max(200_000),
	edits: z.array(draftEditSchema).max(5000).default([]),
	/** Proposed cells that were decided against, by `item|x|y`. */
	rejected: z.array(z.string().max(200)).max(200_000).default([])
});

/** Replaces the changes of a draft. */
export const PUT: RequestHandler = async ({ params, request, locals }) =>
	orJson(async () => {
		const draft = await anyRevisionOr404(locals.app, params.rev);
		const { job, version, changes, edits, rejected } = parseWith(
			body,
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
