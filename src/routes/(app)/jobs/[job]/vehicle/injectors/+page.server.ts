import { redirect } from '@sveltejs/kit';
import { sheetOf } from '$core/vehicle/sheet';
import { field, jobOr404, orFail, tunerOr401 } from '$lib/server/http/http';
import { revisionsOf } from '$lib/server/revisions/revisions';
import { fitInjectors, INJECTOR_FIELDS, planInjectors } from '$lib/server/use-cases/other-injectors';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const sheet = sheetOf(job.vehicle);
	const draft = (await revisionsOf(locals.app.db, job.id)).find((r) => r.state === 'draft');
	return {
		/** It stands in the way: what it changes would have to be rescaled as well. */
		draft: draft ? { id: draft.id, number: draft.number } : null,
		now: Object.fromEntries(INJECTOR_FIELDS.map((f) => [f, sheet[f] ?? '']))
	};
};

const enteredIn = (data: FormData): Record<string, string> =>
	Object.fromEntries([...INJECTOR_FIELDS, 'what', 'at'].map((name) => [name, field(data, name).trim()]));

export const actions: Actions = {
	plan: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const entered = enteredIn(await request.formData());
		return orFail(async () => ({ plan: await planInjectors(locals.app, job, entered), entered }), entered);
	},
	take: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const entered = enteredIn(await request.formData());
		const taken = await orFail(
			async () => ({ draft: await fitInjectors(locals.app, job, tunerOr401(locals).name, entered) }),
			entered
		);
		if ('draft' in taken) redirect(303, `/jobs/${job.id}/revisions/${taken.draft}`);
		return taken;
	}
};
