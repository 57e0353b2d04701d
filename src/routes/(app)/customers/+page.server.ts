import { findCustomers } from '$lib/server/jobs/customers';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, url }) => {
	const search = (url.searchParams.get('q') ?? '').slice(0, 200);
	return { search, customers: await findCustomers(locals.app.db, search) };
};
