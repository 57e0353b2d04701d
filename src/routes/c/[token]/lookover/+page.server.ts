import { InputError } from '$core/input-error';
import { jobOfLink } from '$lib/server/customer';
import { field, orFail } from '$lib/server/http';
import { addPhoto, answerLookover, lookoverOf, MAX_PHOTO_BYTES, removePhoto } from '$lib/server/lookover';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, parent }) => {
	const { jobId } = await parent();
	return { items: await lookoverOf(locals.app.db, jobId) };
};

export const actions: Actions = {
	answer: async (event) => {
		const jobId = await jobOfLink(event);
		const data = await event.request.formData();
		const item = field(data, 'item');
		return orFail(
			async () => {
				await answerLookover(event.locals.app.db, jobId, {
					item,
					state: field(data, 'state'),
					remark: field(data, 'remark')
				});
				return { answered: item };
			},
			{ item }
		);
	},
	photo: async (event) => {
		const jobId = await jobOfLink(event);
		// The whole form is read into memory: what is too large is refused before that.
		if (Number(event.request.headers.get('content-length') ?? MAX_PHOTO_BYTES + 1) > MAX_PHOTO_BYTES)
			return orFail(() => {
				throw new InputError(`the photo is larger than ${MAX_PHOTO_BYTES >> 20} MB`, 'Photo');
			});
		const data = await event.request.formData();
		const item = field(data, 'item');
		return orFail(
			async () => {
				const photo = data.get('photo');
				if (!(photo instanceof File) || photo.size === 0)
					throw new InputError('choose a photo first', 'Photo');
				const { db, dataDir } = event.locals.app;
				await addPhoto(db, dataDir, jobId, item, new Uint8Array(await photo.arrayBuffer()));
				return { answered: item };
			},
			{ item }
		);
	},
	removePhoto: async (event) => {
		const jobId = await jobOfLink(event);
		await removePhoto(
			event.locals.app.db,
			event.locals.app.dataDir,
			jobId,
			Number(field(await event.request.formData(), 'id'))
		);
	}
};
