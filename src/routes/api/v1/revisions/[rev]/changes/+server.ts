import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { parseWith } from '../../../../../../core/parse';
import { draftChangeSchema } from '../../../../../../core/revising/revise';
import { anyRevisionOr404, orJson } from '$lib/server/http';
import { saveChanges } from '$lib/server/revisions';
import type { RequestHandler } from './$types';

const body = z.object({ changes: z.array(draftChangeSchema).max(200_000) });

/** Replaces the changes of a draft. */
export const PUT: RequestHandler = async ({ params, request, locals }) =>
	orJson(async () => {
		const draft = await anyRevisionOr404(locals.app, params.rev);
		const { changes } = parseWith(body, await request.json().catch(() => null));
		await saveChanges(locals.app.db, draft, changes);
		return json({ saved: changes.length });
	});
