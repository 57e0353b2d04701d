import { z } from 'zod';
import { calibrationFrom } from '$core/calibration/formats/read';
import { titleOf } from '$core/calibration/items';
import { itemFrom, scalarsFrom, tableIn } from '$core/calibration/tables/build';
import {
	parseLayout,
	scalarLayoutSchema,
	tableLayoutSchema,
	type ScalarLayout,
	type TableLayout
} from '$core/calibration/tables/layout';
import { readPasted } from '$core/calibration/tables/block';
import { findItem } from '$core/calibration/document';
import { InputError } from '$core/input-error';
import { parseJson, parseWith } from '$core/parse';
import { baselineOf, dropItem, putItems, replaceBaseline, whyFrozen } from '$lib/server/baseline';
import { field, jobOr404, orFail } from '$lib/server/http';
import { chooseLayout, keepLayout, keptLayouts, layoutOfJob, remember } from '$lib/server/table-layouts';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const { calibration } = await baselineOf(db, job.id);
	const { id, layout } = await layoutOfJob(db, job.id, job.vehicle, calibration.fuelModel);
	return {
		frozen: await whyFrozen(db, job.id),
		fuelModel: calibration.fuelModel,
		items: calibration.items.map((i) => ({
			id: i.id,
			title: titleOf(i),
			kind: i.kind,
			unit: i.unit ?? '',
			size:
				i.kind === 'map'
					? `${i.y.points.length} × ${i.x.points.length}`
					: i.kind === 'curve'
						? `${i.x.points.length} points`
						: i.kind === 'scalar'
							? String(i.value)
							: ''
		})),
		layout: { id, ...layout },
		kept: (await keptLayouts(db)).map((k) => ({
			id: k.id,
			name: k.layout.name,
			fuelModel: k.layout.fuelModel
		}))
	};
};

const scalarsMapping = z.array(scalarLayoutSchema.extend({ name: z.string() })).max(500);

export const actions: Actions = {
	/** One pasted table becomes an item of R0, and the layout remembers how it was read. */
	keep: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const raw = (name: string) => {
			const v = data.get(name);
			return typeof v === 'string' ? v : '';
		};
		return orFail(async () => {
			const entry: TableLayout = parseWith(tableLayoutSchema, parseJson(field(data, 'entry')));
			const { calibration } = await baselineOf(locals.app.db, job.id);
			const old = findItem(calibration, entry.item);
			const replaces =
				old?.kind === 'map' ? { x: old.x, y: old.y } : old?.kind === 'curve' ? { x: old.x, y: null } : null;
			const [x, y] = [raw('x'), raw('y')];
			const pasted = tableIn(
				{ body: raw('text'), ...(x.trim() ? { x } : {}), ...(y.trim() ? { y } : {}) },
				entry.axes === 'without'
			);
			const item = itemFrom(pasted, entry, replaces);
			await putItems(locals.app, job.id, [item]);
			await remember(locals.app.db, job.id, job.vehicle, calibration.fuelModel, {
				tables: [{ ...entry, decimals: entry.decimals ?? pasted.decimals.values }]
			});
			return { kept: item.id, title: titleOf(item) };
		});
	},
	values: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		return orFail(async () => {
			const mapping = parseWith(scalarsMapping, parseJson(field(data, 'mapping')));
			const text = data.get('text');
			const pasted = readPasted(typeof text === 'string' ? text : '');
			if (!('scalars' in pasted)) throw new InputError('lines of name, value and unit are expected');
			const layouts: ScalarLayout[] = mapping.map(({ name, ...l }) => ({ ...l, title: name }));
			const items = scalarsFrom(pasted.scalars, layouts);
			const { calibration } = await baselineOf(locals.app.db, job.id);
			await putItems(locals.app, job.id, items);
			await remember(locals.app.db, job.id, job.vehicle, calibration.fuelModel, { scalars: layouts });
			return { kept: items.map((i) => i.id).join(', '), title: items.map((i) => titleOf(i)).join(', ') };
		});
	},
	drop: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const id = field(await request.formData(), 'item');
		return orFail(async () => {
			await dropItem(locals.app, job.id, id);
			return { dropped: id };
		});
	},
	/** R0 as a whole from a file. */
	file: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const file = (await request.formData()).get('file');
		return orFail(async () => {
			if (!(file instanceof File) || file.size === 0) throw new InputError('choose a file first');
			const calibration = calibrationFrom(await file.text());
			await replaceBaseline(locals.app, job.id, calibration);
			return { replaced: file.name };
		});
	},
	layout: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		return orFail(async () => {
			const file = data.get('file');
			const id =
				file instanceof File && file.size > 0
					? await keepLayout(locals.app.db, parseLayout(parseJson(await file.text())))
					: Number(field(data, 'layout'));
			await chooseLayout(locals.app.db, job.id, id);
			return { chosen: true };
		});
	}
};
