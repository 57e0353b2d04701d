import { profileOf } from '$core/limits/profile';
import { bankCount, cylindersByBank } from '$core/vehicle/facts';
import { cylindersOverTime } from '$lib/server/jobs/cylinders';
import { plugPhotosOf } from '$lib/server/jobs/inspection';
import { jobOr404 } from '$lib/server/http/http';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const all = Array.from({ length: job.vehicle.engine.cylinders }, (_, i) => i + 1);
	return {
		banks: cylindersByBank(job.vehicle) ?? [all],
		twoBanks: bankCount(job.vehicle) === 2,
		limits: profileOf(job.vehicle.limits),
		columns: await cylindersOverTime(locals.app.db, job.id),
		// The oldest first, as in the table.
		photos: (await plugPhotosOf(locals.app.db, job.id)).reverse()
	};
};
