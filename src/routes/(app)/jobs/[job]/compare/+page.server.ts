import { error } from '@sveltejs/kit';
import { compare, tableDelta } from '../../../../../core/calibration/compare';
import { findItem, type CurveItem, type Item, type MapItem } from '../../../../../core/calibration/document';
import { jobOr404, revisionOr404 } from '$lib/server/http';
import { revisionsOf } from '$lib/server/revisions';
import type { PageServerLoad } from './$types';

const isTable = (i: Item | undefined): i is MapItem | CurveItem => i?.kind === 'map' || i?.kind === 'curve';

export const load: PageServerLoad = async ({ params, url, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const lines = await revisionsOf(locals.app.db, job.id);
	const a = url.searchParams.get('a') ?? String(lines[0]?.id);
	const b = url.searchParams.get('b') ?? String(lines.at(-1)?.id);
	if (!/^\d+$/.test(a) || !/^\d+$/.test(b)) error(404, 'Two revisions are compared by their numbers.');
	const left = await revisionOr404(locals.app, job.id, a);
	const right = await revisionOr404(locals.app, job.id, b);
	const comparison = compare(left.calibration, right.calibration);
	return {
		lines,
		a: { id: left.id, number: left.number },
		b: { id: right.id, number: right.number },
		comparison,
		tables: comparison.changes.flatMap((change) => {
			const old = findItem(left.calibration, change.item);
			const now = findItem(right.calibration, change.item);
			if (!isTable(old) || !isTable(now)) return [];
			return [
				{
					item: change.item,
					x: now.x,
					y: now.kind === 'map' ? now.y : null,
					values: now.kind === 'map' ? now.values : [now.values],
					delta: tableDelta(old, now)
				}
			];
		}),
		titles: Object.fromEntries(
			[...left.calibration.items, ...right.calibration.items].map((i) => [
				i.id,
				{ title: i.title ?? i.id, group: i.group ?? 'Other', unit: i.unit ?? '' }
			])
		),
		reasons: Object.fromEntries(right.changes.map((c) => [`${c.item}|${c.x}|${c.y}`, c.reason]))
	};
};
