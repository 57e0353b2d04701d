import { queue } from '$lib/server/queue';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, url }) => ({
	...(await queue(locals.app.db, Number(url.searchParams.get('page')))),
	now: Date.now()
});
