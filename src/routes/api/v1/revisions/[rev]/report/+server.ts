import { reportOf } from '$lib/server/http/comparison-view';
import { download } from '$lib/server/http/http';
import type { RequestHandler } from './$types';

/** What changed in a revision against another (`from`), line by line, as CSV. */
export const GET: RequestHandler = async ({ params, url, locals }) => {
	const { name, csv } = await reportOf(locals.app, url.searchParams.get('from') ?? '', params.rev);
	return download(csv, name, 'text/csv');
};
