import { jobOr404 } from '$lib/server/http/http';
import { redirect } from '@sveltejs/kit';
import { sessionOfJob, unjudged } from '$lib/server/use-cases/practice';
import { collapsedFrom } from '$lib/server/http/preferences';
import { railOf } from '$lib/server/jobs/rail';
import { openStopIn } from '$lib/server/jobs/open-findings';
import { timelineOf } from '$lib/server/jobs/timeline';
import { renewScreenings } from '$lib/server/use-cases/screen';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ params, locals, cookies, url }) => {
	const job = await jobOr404(locals.app, params.job);
	const { db } = locals.app;
	// The trainee's own word comes first: until then nothing of the job is shown, wherever one goes in it.
	const practice = await sessionOfJob(db, job.id);
	if (practice && url.pathname && unjudged(practice)) redirect(303, `/practice/${practice.id}`);
	// What rests is screened anew by today's checks when somebody looks at it again.
	if (job.done || job.archivedAt) renewScreenings(locals.app, job.id);
	const [events, openStop] = await Promise.all([timelineOf(db, job.id), openStopIn(db, job.id)]);
	return {
		practice: practice && { id: practice.id, level: practice.level },
		job,
		events,
		openStop,
		rail: await railOf(db, job, events),
		collapsed: collapsedFrom(cookies)
	};
};
