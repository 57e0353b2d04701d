import { limitRows } from '$core/limits/rows';
import { LIMITS, type LimitName } from '$core/limits/profile';
import { jobOr404, orFail } from '$lib/server/http/http';
import { sheetFields } from '$lib/server/http/new-job-form';
import { saveVehicle } from '$lib/server/use-cases/change-vehicle';
import { withLimits } from '$lib/server/jobs/vehicles';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const rows = limitRows();
	return {
		groups: rows.map(({ title, rows: list }) => ({
			title,
			rows: list.map(({ what, limits }) => ({
				what,
				limits: limits.map(({ name, level }) => ({
					name,
					level,
					...LIMITS[name],
					own: job.vehicle.limits?.[name] ?? null
				}))
			}))
		})),
		own: (Object.keys(LIMITS) as LimitName[]).filter((n) => job.vehicle.limits?.[n] !== undefined).length
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
