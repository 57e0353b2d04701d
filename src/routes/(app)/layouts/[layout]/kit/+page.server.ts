import { error } from '@sveltejs/kit';
import { field, idOf, orFail, tunerOr401 } from '$lib/server/http/http';
import { keepSteps, kitOf, removeKitFile } from '$lib/server/revisions/recording-kits';
import { keptLayout } from '$lib/server/revisions/table-layouts';
import { dropFile } from '$lib/server/storage/stored-files';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const kept =
		(await keptLayout(locals.app.db, idOf(params.layout))) ?? error(404, 'There is no such layout.');
	const { steps, files } = await kitOf(locals.app.db, kept.id);
	return {
		layout: { id: kept.id, name: kept.layout.name },
		steps,
		files: files.map(({ id, name, bytes, author, at, picture }) => ({
			id,
			name,
			bytes,
			author,
			at,
			picture: picture !== null
		}))
	};
};

export const actions: Actions = {
	steps: async ({ params, request, locals }) => {
		const steps = field(await request.formData(), 'steps');
		return orFail(
			async () => {
				await keepSteps(locals.app.db, idOf(params.layout), tunerOr401(locals).name, steps);
				return { saved: true };
			},
			{ steps }
		);
	},
	remove: async ({ params, request, locals }) => {
		const id = Number(field(await request.formData(), 'file'));
		return orFail(async () => {
			const { db, dataDir } = locals.app;
			await dropFile(db, dataDir, await removeKitFile(db, idOf(params.layout), id));
			return { removed: true };
		});
	}
};
