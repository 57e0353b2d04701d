import { jobOfLink } from '$lib/server/http/customer';
import { customerFields } from '$lib/server/http/customer-form';
import { orFail } from '$lib/server/http/http';
import { answerInspection, inspectionOf } from '$lib/server/jobs/inspection';
import { dropPhoto, takePhoto } from '$lib/server/http/photo-form';
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
