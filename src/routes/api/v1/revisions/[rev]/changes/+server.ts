import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { parseWith } from '../../../../../../core/parse';
import { draftEditSchema } from '../../../../../../core/revising/edits';
import { draftChangeSchema } from '../../../../../../core/revising/revise';
import { anyRevisionOr404, orJson } from '$lib/server/http';
import { saveChanges } from '$lib/server/revisions';
import type { RequestHandler } from './$types';

const body = z.object({
	changes: z.array(draftChangeSchema).max(200_000),
	edits: z.array(draftEditSchema).max(5000).default([])
});

/** Replaces the changes of a draft. */
export const PUT: RequestHandler = async ({ params, request, locals }) =>
	orJson(async () => {
		const draft = await anyRevisionOr404(locals.app, params.rev);
		const { changes, edits } = parseWith(body, await request.json().catch(() => null));
		await saveChanges(locals.app.db, draft, changes, edits);
		return json({ saved: changes.length + edits.length });
	});
