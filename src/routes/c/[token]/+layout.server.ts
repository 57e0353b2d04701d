import { jobOfLink } from '$lib/server/http/customer';
import { jobView } from '$lib/server/jobs/jobs';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async (event) => {
	const jobId = await jobOfLink(event);
	// The address is the key: it is kept out of referrers, caches and search engines.
	event.setHeaders({ 'cache-control': 'private, no-store', 'x-robots-tag': 'noindex' });
	const job = (await jobView(event.locals.app.db, jobId))!;
	return { base: `/c/${event.params.token}`, jobId, title: job.title, vehicle: job.vehicle.name };
};
