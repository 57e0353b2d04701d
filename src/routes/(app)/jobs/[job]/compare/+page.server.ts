import { error } from '@sveltejs/kit';
import { calibrationFrom } from '$core/calibration/formats/read';
import { findItem } from '$core/calibration/lookup';
import { titleOf } from '$core/calibration/items';
import { itemFrom, tableIn } from '$core/calibration/tables/build';
import { asItStands } from '$core/calibration/tables/layout';
import { layoutOfJob } from '$lib/server/revisions/table-layouts';
import { InputError } from '$core/input-error';
import { revisionSide, revisionsElsewhere, viewOf } from '$lib/server/http/comparison-view';
import { field, jobOr404, orFail } from '$lib/server/http/http';
import { revisionsOf } from '$lib/server/revisions/revisions';
import type { Actions, PageServerLoad } from './$types';

const MOST_BYTES = 50e6;
const MOST_TEXT = 2e6;

export const load: PageServerLoad = async ({ params, url, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const lines = await revisionsOf(locals.app.db, job.id);
	const a = url.searchParams.get('a') ?? String(lines[0]?.id);
	const b = url.searchParams.get('b') ?? String(lines.at(-1)?.id);
	if (!/^\d+$/.test(a) || !/^\d+$/.test(b)) error(404, 'Two revisions are compared by their numbers.');
	return {
		lines,
		tables: (await revisionSide(locals.app, a, job.id)).calibration.items.flatMap((i) =>
			i.kind === 'map' || i.kind === 'curve' ? [{ id: i.id, title: titleOf(i) }] : []
		),
		elsewhere: await revisionsElsewhere(locals.app.db, job.id),
		view: viewOf(await revisionSide(locals.app, a, job.id), await revisionSide(locals.app, b, job.id))
	};
};

export const actions: Actions = {
	/** Sets one table, pasted or from a text file, against that of a revision; nothing of it is stored. */
	table: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		return orFail(async () => {
			const file = data.get('file');
			const text = data.get('text');
			const given = file instanceof File && file.size > 0 ? file : null;
			if (given && given.size > MOST_TEXT) throw new InputError('the file is larger than any table');
			const body = given ? await given.text() : typeof text === 'string' ? text : '';
			const left = await revisionSide(locals.app, field(data, 'a'), job.id);
			const item = findItem(left.calibration, field(data, 'item'));
			if (item?.kind !== 'map' && item?.kind !== 'curve')
				throw new InputError(`${left.side.label} has no such table`);
			const { layout } = await layoutOfJob(locals.app.db, job.id, job.vehicle, left.calibration.fuelModel);
			const entry = layout.tables.find((t) => t.item === item.id && t.said) ?? asItStands(item);
			const pasted = itemFrom(tableIn({ body }, entry.axes === 'without'), entry, {
				x: item.x,
				y: item.kind === 'map' ? item.y : null
			});
			const calibration = {
				...left.calibration,
				items: left.calibration.items.map((i) => (i.id === item.id ? pasted : i))
			};
			return {
				view: viewOf(left, {
					side: { id: null, label: given?.name ?? 'The pasted table', jobId: null },
					calibration
				})
			};
		});
	},
	/** Sets a file from disk against a revision; nothing of it is stored. */
	file: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const file = data.get('file');
		return orFail(async () => {
			if (!(file instanceof File) || file.size === 0) throw new InputError('choose a calibration file first');
			if (file.size > MOST_BYTES) throw new InputError('the file is larger than any calibration');
			const left = await revisionSide(locals.app, field(data, 'a'), job.id);
			try {
				const calibration = calibrationFrom(await file.text());
				return { view: viewOf(left, { side: { id: null, label: file.name, jobId: null }, calibration }) };
			} catch (e) {
				if (e instanceof InputError) throw new InputError(e.message, file.name);
				throw e;
			}
		});
	}
};
