import { error } from '@sveltejs/kit';
import { starterLayout } from '$core/calibration/tables/layout';
import { download, idOf } from '$lib/server/http/http';
import { keptLayout } from '$lib/server/revisions/table-layouts';
import type { RequestHandler } from './$types';

const STARTERS = ['speed-density', 'pulse-width', 'maf'] as const;

/** A layout as a document, to be imported elsewhere. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const starter = STARTERS.find((s) => s === params.layout);
	const layout = starter
		? starterLayout(starter)
		: (await keptLayout(locals.app.db, idOf(params.layout)))?.layout;
	if (!layout) error(404, 'There is no such layout.');
	return download(
		`${JSON.stringify(layout, null, '\t')}\n`,
		`${layout.name}.layout.json`,
		'application/json'
	);
};
