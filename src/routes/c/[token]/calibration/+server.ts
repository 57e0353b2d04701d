import { error } from '@sveltejs/kit';
import { jobOfLink } from '$lib/server/http/customer';
import { handedOut, tablesName } from '$lib/server/revisions/handed-out';
import { download } from '$lib/server/http/http';
import { currentRevision, revision } from '$lib/server/revisions/revisions';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async (event) => {
	const { db } = event.locals.app;
	const current = await revision(db, (await currentRevision(db, await jobOfLink(event))).id);
	if (!current || !(await handedOut(db, current)).tables)
		error(404, 'There is no such file in what was released for you.');
	return download(
		`${JSON.stringify(current.calibration, null, '\t')}\n`,
		tablesName(current),
		'application/json'
	);
};
