import { queue } from '$lib/server/jobs';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => ({
	rows: await queue(locals.app.db),
	now: Date.now()
});
