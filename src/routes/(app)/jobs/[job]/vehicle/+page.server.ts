import { sheetOf, vehicleFromSheet } from '$core/vehicle/sheet';
import { jobOr404, orFail } from '$lib/server/http/http';
import { sheetFields } from '$lib/server/http/new-job-form';
import { saveVehicle } from '$lib/server/use-cases/change-vehicle';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	return { fields: sheetOf(job.vehicle) };
};

export const actions: Actions = {
	default: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const fields = sheetFields(await request.formData());
		return orFail(async () => {
			await saveVehicle(locals.app, job.vehicleId, vehicleFromSheet(fields, job.vehicle));
			return { saved: true };
		}, fields);
	}
};
