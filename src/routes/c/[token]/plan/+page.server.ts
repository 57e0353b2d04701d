import { CHANNELS } from '$core/channels/canonical';
import { currentRequest } from '$lib/server/jobs/drive-plans';
import { jobView } from '$lib/server/jobs/jobs';
import { kitOfJob } from '$lib/server/revisions/recording-kits';
import { error } from '@sveltejs/kit';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, parent }) => {
	const { jobId } = await parent();
	const request =
		(await currentRequest(locals.app.db, jobId)) ?? error(404, 'Your tuner has not asked for a log yet.');
	const { plan } = request;
	const { db } = locals.app;
	const { steps, files } = await kitOfJob(db, (await jobView(db, jobId))!);
	return {
		kit: {
			steps,
			files: files.map(({ id, name, bytes, picture }) => ({ id, name, bytes, picture: picture !== null }))
		},
		plan: {
			title: plan.title ?? 'Drive plan',
			purpose: plan.purpose ?? '',
			manoeuvres: plan.manoeuvres ?? [],
			conditions: plan.conditions ?? {},
			preparations: plan.preparations ?? [],
			aborts: plan.aborts ?? [],
			cautions: plan.cautions ?? [],
			channels: (plan.channels ?? []).map((c) => {
				const { id, why = '', minRateHz = 0 } = typeof c === 'string' ? { id: c } : c;
				return { id, title: CHANNELS.get(id)?.title ?? id, why, minRateHz };
			})
		}
	};
};
