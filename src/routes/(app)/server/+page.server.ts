import { error } from '@sveltejs/kit';
import { conditionOf } from '$lib/server/views/server-health';
import { tunerOr401 } from '$lib/server/http/http';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	if (tunerOr401(locals).role !== 'owner') error(403, 'How the server is, its owner sees.');
	return { condition: await conditionOf(locals.app) };
};
