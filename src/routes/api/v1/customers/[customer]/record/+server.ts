import { error } from '@sveltejs/kit';
import { customer } from '$lib/server/jobs/customers';
import { safeName } from '$lib/server/storage/files';
import { download, idOf } from '$lib/server/http/http';
import { exportArchive } from '$lib/server/archive/export';
import type { RequestHandler } from './$types';

/** Everything of a customer as one ZIP: their record, the logs as they were received, photos, closed files. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const known =
		(await customer(locals.app.db, idOf(params.customer))) ??
		error(404, 'There is no customer by that number.');
	return download(
		await exportArchive(locals.app, { of: 'customer', id: known.id }),
		`${safeName(known.name)}.zip`,
		'application/zip'
	);
};
