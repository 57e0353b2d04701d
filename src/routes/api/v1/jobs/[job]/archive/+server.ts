import { exportArchive } from '$lib/server/archive/export';
import { download, jobOr404 } from '$lib/server/http/http';
import { safeName } from '$lib/server/storage/files';
import type { RequestHandler } from './$types';

/** The whole job as one ZIP that another Tanto reads in: its record, the logs as they were received, photos, closed files. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return download(
		await exportArchive(locals.app, { of: 'job', id: job.id }),
		`${safeName(job.title)}.zip`,
		'application/zip'
	);
};
