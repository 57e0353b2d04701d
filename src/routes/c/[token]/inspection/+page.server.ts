import { jobOfLink } from '$lib/server/customer';
import { field, orFail } from '$lib/server/http';
import { answerInspection, inspectionOf } from '$lib/server/inspection';
import { dropPhoto, takePhoto } from '$lib/server/photo-form';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, parent }) => {
	const { jobId } = await parent();
	return { items: await inspectionOf(locals.app.db, jobId) };
};

export const actions: Actions = {
	answer: async (event) => {
		const jobId = await jobOfLink(event);
		const data = await event.request.formData();
		const item = field(data, 'item');
		return orFail(
			async () => {
				await answerInspection(event.locals.app.db, jobId, {
					item,
					state: field(data, 'state'),
					remark: field(data, 'remark')
				});
				return { answered: item };
			},
			{ item }
		);
	},
	photo: takePhoto,
	removePhoto: dropPhoto
};
