import { jobOr404 } from '$lib/server/http';
import { openStopIn } from '$lib/server/still-open';
import { timelineOf } from '$lib/server/timeline';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const { db } = locals.app;
	const [events, openStop] = await Promise.all([timelineOf(db, job.id), openStopIn(db, job.id)]);
	return { job, events, openStop };
};
