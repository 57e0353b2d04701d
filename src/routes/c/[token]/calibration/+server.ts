import { error } from '@sveltejs/kit';
import { jobOfLink } from '$lib/server/customer';
import { download } from '$lib/server/http';
import { currentRevision, revision } from '$lib/server/revisions';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async (event) => {
	const { db } = event.locals.app;
	const current = await revision(db, (await currentRevision(db, await jobOfLink(event))).id);
	if (current?.state !== 'released') error(404, 'Nothing has been released for you yet.');
	return download(
		`${JSON.stringify(current.calibration, null, '\t')}\n`,
		`R${current.number}.json`,
		'application/json'
	);
};
