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
import type { Item } from '$core/calibration/document';
import { findItem } from '$core/calibration/lookup';
import { InputError } from '$core/input-error';
import { parseJson, parseWith } from '$core/parse';
import { baseSanityOf, type BaseSanity } from '$lib/server/revisions/base-sanity';
import {
	addToDraft,
	dropItem,
	placeForItems,
	putItems,
	replaceBaseline,
	whyFrozen
} from '$lib/server/use-cases/base-completion';
import { baselineOf } from '$lib/server/revisions/revisions';
import type { App } from '$lib/server/context';
import type { Db } from '$lib/server/db/open';
import type { JobView } from '$lib/server/jobs/jobs';
import type { Revision } from '$lib/server/revisions/revisions';
import { field, jobOr404, orFail } from '$lib/server/http/http';
import {
	chooseLayout,
	keepLayout,
	keptLayouts,
	layoutOfJob,
	remember
} from '$lib/server/revisions/table-layouts';
import type { Actions, PageServerLoad } from './$types';

function sanityOf(db: Db, job: JobView): Promise<BaseSanity> {
	const sanity = baseSanityOf(db, job);
	// It may fail before the page waits for it; the page says so then.
	sanity.catch(() => undefined);
	return sanity;
}

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const place = await placeForItems(db, job.id);
	const { calibration } = place ?? (await baselineOf(db, job.id));
	const { id, layout } = await layoutOfJob(db, job.id, job.vehicle, calibration.fuelModel);
	return {
		// Comes when the workshop's own were read: pasting doesn't wait for it.
		sanity: sanityOf(db, job),
		/** Where what is pasted goes; nothing where nothing can be added. */
		place: place && { id: place.id, number: place.number, draft: place.state === 'draft' },
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

async function openPlace(db: Db, jobId: number): Promise<Revision> {
	const place = await placeForItems(db, jobId);
	if (place) return place;
	throw new InputError(
		`R0 can't be changed any more (${await whyFrozen(db, jobId)}): start a draft, and what you paste is added to it`
	);
}

/** Items and what was learnt of how they are written: both are kept, or neither. */
async function put(
	app: App,
	job: JobView,
	place: Revision,
	items: readonly Item[],
	reason: string,
	learned: { tables?: readonly TableLayout[]; scalars?: readonly ScalarLayout[] }
): Promise<void> {
	const also = (trx: Db) => remember(trx, job.id, job.vehicle, place.calibration.fuelModel, learned);
	if (place.state !== 'draft') return putItems(app, job.id, items, also);
	await addToDraft(app.db, place, items, reason.trim() || 'Pasted from the tuner’s own program', also);
}

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
			const place = await openPlace(locals.app.db, job.id);
			const { calibration } = place;
			const old = findItem(calibration, entry.item);
			const replaces =
				old?.kind === 'map' ? { x: old.x, y: old.y } : old?.kind === 'curve' ? { x: old.x, y: null } : null;
			const [x, y] = [raw('x'), raw('y')];
			const pasted = tableIn(
				{ body: raw('text'), ...(x.trim() ? { x } : {}), ...(y.trim() ? { y } : {}) },
				entry.axes === 'without'
			);
			const item = itemFrom(pasted, entry, replaces);
			await put(locals.app, job, place, [item], raw('reason'), {
				tables: [{ ...entry, decimals: entry.decimals ?? pasted.decimals.values }]
			});
			return { kept: item.id, title: titleOf(item), number: place.number };
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
			const place = await openPlace(locals.app.db, job.id);
			const reason = data.get('reason');
			await put(locals.app, job, place, items, typeof reason === 'string' ? reason : '', {
				scalars: layouts
			});
			return {
				kept: items.map((i) => i.id).join(', '),
				title: items.map((i) => titleOf(i)).join(', '),
				number: place.number
			};
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
