import { json } from '@sveltejs/kit';
import { find } from '$lib/server/jobs/customers';
import type { RequestHandler } from './$types';

/** Jobs and customers by any of their words. */
export const GET: RequestHandler = async ({ url, locals }) =>
	json({ found: await find(locals.app.db, (url.searchParams.get('q') ?? '').slice(0, 200)) });
