import { redirect } from '@sveltejs/kit';
import { createJob } from '$lib/server/jobs';
import { orFail } from '$lib/server/http';
import { newJobFrom } from '$lib/server/new-job-form';
import type { Actions } from './$types';

export const actions: Actions = {
	default: async ({ request, locals }) => {
		const data = await request.formData();
		const entered = Object.fromEntries(
			[...data].flatMap(([k, v]) => (typeof v === 'string' ? [[k, v] as const] : []))
		);
		const result = await orFail(async () => createJob(locals.app.db, await newJobFrom(data)), entered);
		if (typeof result !== 'number') return result;
		redirect(303, `/jobs/${result}`);
	}
};
