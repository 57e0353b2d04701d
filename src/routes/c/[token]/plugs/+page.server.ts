import { jobView } from '$lib/server/jobs/jobs';
import { plugPhotosOf } from '$lib/server/jobs/inspection';
import { dropPhoto, takePhoto } from '$lib/server/http/photo-form';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, parent }) => {
	const { jobId } = await parent();
	const job = (await jobView(locals.app.db, jobId))!;
	return {
		cylinders: Array.from({ length: job.vehicle.engine.cylinders }, (_, i) => i + 1),
		photos: await plugPhotosOf(locals.app.db, jobId)
	};
};

export const actions: Actions = { photo: takePhoto, removePhoto: dropPhoto };
