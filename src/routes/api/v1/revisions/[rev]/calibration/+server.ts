import { error } from '@sveltejs/kit';
import { findItem } from '$core/calibration/lookup';
import { toCdf } from '$core/calibration/formats/cdf';
import { allTablesCsv, isTable, tableCsv } from '$core/calibration/formats/csv';
import { anyRevisionOr404, download } from '$lib/server/http/http';
import type { RequestHandler } from './$types';

/** The calibration of a revision as `tanto.calibration/1`, as CDF 2.0 XML, or its tables (one with `item`) as CSV. */
export const GET: RequestHandler = async ({ params, url, locals }) => {
	const r = await anyRevisionOr404(locals.app, params.rev);
	const name = `R${r.number}`;
	switch (url.searchParams.get('format') ?? 'json') {
		case 'json':
			return download(`${JSON.stringify(r.calibration, null, '\t')}\n`, `${name}.json`, 'application/json');
		case 'cdf':
			return download(toCdf(r.calibration), `${name}.xml`, 'application/xml');
		case 'csv': {
			const id = url.searchParams.get('item');
			if (id === null) return download(allTablesCsv(r.calibration), `${name}.csv`, 'text/csv');
			const item = findItem(r.calibration, id);
			if (!isTable(item)) error(404, 'This revision has no table of that name.');
			return download(tableCsv(item), `${name}-${id.replace(/[^\w.]/g, '_')}.csv`, 'text/csv');
		}
		default:
			error(400, 'A calibration is given as json, cdf or csv.');
	}
};
