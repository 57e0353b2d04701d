import { jobOfLink } from '$lib/server/customer';
import { customerFields } from '$lib/server/customer-form';
import { orFail } from '$lib/server/http';
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
		const fields = await customerFields(event.request);
		const item = fields.get('item') ?? '';
		return orFail(
			async () => {
				await answerInspection(event.locals.app.db, jobId, {
					item,
					state: fields.get('state') ?? '',
					remark: fields.get('remark') ?? ''
				});
				return { answered: item };
			},
			{ item }
		);
	},
	photo: takePhoto,
	removePhoto: dropPhoto
};
