import { error } from '@sveltejs/kit';
import { diagnosis } from '$lib/server/views/server-health';
import { download, tunerOr401 } from '$lib/server/http/http';
import type { RequestHandler } from './$types';

/** How the server is, as a file without anything of customers. The owner's. */
export const GET: RequestHandler = async ({ locals }) => {
	if (tunerOr401(locals).role !== 'owner') error(403, 'Only the owner does this.');
	const text = JSON.stringify(await diagnosis(locals.app), null, '\t');
	return download(text, `tanto-diagnosis-${new Date().toISOString().slice(0, 10)}.json`, 'application/json');
};
