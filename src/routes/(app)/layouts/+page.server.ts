import { parseLayout, starterLayout } from '$core/calibration/tables/layout';
import { InputError } from '$core/input-error';
import { parseJson } from '$core/parse';
import { field, idOf, orFail } from '$lib/server/http/http';
import { copyLayout, dropLayout, keepLayout, keptLayouts } from '$lib/server/revisions/table-layouts';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => ({
	layouts: (await keptLayouts(locals.app.db)).map(({ id, layout, updatedAt }) => ({
		id,
		name: layout.name,
		controller: [layout.controller?.hardware, layout.controller?.software].filter(Boolean).join(' '),
		tables: layout.tables.length,
		scalars: layout.scalars.length,
		updatedAt
	})),
	starters: (['speed-density', 'pulse-width', 'maf'] as const).map((model) => {
		const { name, tables } = starterLayout(model);
		return { model, name, tables: tables.length };
	})
});

export const actions: Actions = {
	import: async ({ request, locals }) => {
		const file = (await request.formData()).get('file');
		return orFail(async () => {
			if (!(file instanceof File) || file.size === 0) throw new InputError('choose a layout first');
			await keepLayout(locals.app.db, parseLayout(parseJson(await file.text())));
			return { imported: file.name };
		});
	},
	copy: async ({ request, locals }) => {
		const data = await request.formData();
		const entered = {
			name: field(data, 'name'),
			hardware: field(data, 'hardware'),
			software: field(data, 'software')
		};
		return orFail(async () => {
			await copyLayout(locals.app.db, idOf(field(data, 'layout')), entered);
			return { copied: true };
		}, entered);
	},
	drop: async ({ request, locals }) => {
		const id = idOf(field(await request.formData(), 'layout'));
		await dropLayout(locals.app.db, id);
		return { dropped: true };
	}
};
