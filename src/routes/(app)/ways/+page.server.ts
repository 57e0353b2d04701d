import { error } from '@sveltejs/kit';
import { parseWith } from '$core/parse';
import { SETTLED, WAYS, waysSchema } from '$core/revising/ways';
import { field, orFail, tunerOr401 } from '$lib/server/http/http';
import { saveWorkshopSetting, workshopSetting } from '$lib/server/jobs/workshop';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => ({
	ways: WAYS,
	settled: SETTLED,
	chosen: await workshopSetting(locals.app.db, 'ways'),
	owner: tunerOr401(locals).role === 'owner'
});

export const actions: Actions = {
	choose: async ({ request, locals }) => {
		if (tunerOr401(locals).role !== 'owner') error(403, 'Only the owner chooses how the workshop works.');
		const data = await request.formData();
		return orFail(async () => {
			const entered = Object.fromEntries(WAYS.map(({ id }) => [id, field(data, id)]));
			await saveWorkshopSetting(locals.app.db, 'ways', parseWith(waysSchema, entered));
			return { saved: true };
		});
	}
};
