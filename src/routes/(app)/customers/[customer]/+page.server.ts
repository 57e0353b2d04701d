import { error, redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { parseWith } from '$core/parse';
import { customer, saveCustomer } from '$lib/server/jobs/customers';
import { field, idOf, orFail, releaserOf } from '$lib/server/http/http';
import { deleteCustomer, leavingOf } from '$lib/server/erasure/erase';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const known =
		(await customer(locals.app.db, idOf(params.customer))) ??
		error(404, 'There is no customer by that number.');
	return { customer: known, leaving: await leavingOf(locals.app.db, known.id) };
};

const about = z.object({
	name: z.string().min(1, 'the customer needs a name').max(200),
	email: z.union([z.literal(''), z.email('this is no mail address')]),
	notes: z.string().max(8000, 'at most 8000 characters')
});

export const actions: Actions = {
	/** With everything of theirs; what can't be taken back is asked once, by name. */
	delete: async ({ params, request, locals }) => {
		const id = idOf(params.customer);
		const typed = field(await request.formData(), 'typed');
		const result = await orFail(async () => {
			releaserOf(locals);
			await deleteCustomer(locals.app, id, typed);
			return true;
		});
		if (result !== true) return result;
		redirect(303, '/customers');
	},
	save: async ({ params, request, locals }) => {
		const { db } = locals.app;
		const known =
			(await customer(db, idOf(params.customer))) ?? error(404, 'There is no customer by that number.');
		const data = await request.formData();
		const entered = { name: field(data, 'name'), email: field(data, 'email'), notes: field(data, 'notes') };
		return orFail(async () => {
			const { name, email, notes } = parseWith(about, entered);
			await saveCustomer(db, known.id, { name, email: email || null, notes });
			return { saved: true };
		}, entered);
	}
};
