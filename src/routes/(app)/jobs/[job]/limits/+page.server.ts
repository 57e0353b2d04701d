import { LIMITS, type LimitName } from '$core/limits/profile';
import { jobOr404, orFail } from '$lib/server/http';
import { sheetFields } from '$lib/server/new-job-form';
import { saveVehicle, withLimits } from '$lib/server/vehicles';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return {
		limits: (Object.keys(LIMITS) as LimitName[]).map((name) => ({
			name,
			...LIMITS[name],
			own: job.vehicle.limits?.[name] ?? null
		}))
	};
};

export const actions: Actions = {
	default: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const fields = sheetFields(await request.formData());
		return orFail(async () => {
			await saveVehicle(locals.app, job.vehicleId, withLimits(job.vehicle, fields));
			return { saved: true };
		}, fields);
	}
};
