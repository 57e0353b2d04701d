import { error } from '@sveltejs/kit';
import { InputError } from '$core/input-error';
import { baselineText, BASELINE_TITLES, type Baselines } from '$core/screening/baselines';
import { jobOr404, logOr404, orFail } from '$lib/server/http/http';
import { readinessOf } from '$lib/server/logs/readiness';
import { saveVehicle } from '$lib/server/use-cases/change-vehicle';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const log = await logOr404(locals.app, job.id, params.log);
	const sheet = (await readinessOf(locals.app.db, job, log)) ?? error(404, 'This log has not been read yet.');
	return { log, ...sheet };
};

const NAMES = Object.keys(BASELINE_TITLES) as (keyof Baselines)[];

export const actions: Actions = {
	/** What this log would give as baselines, beside what the vehicle has. */
	measure: async ({ params, locals }) => {
		const { app } = locals;
		const job = await jobOr404(app, params.job);
		const log = await logOr404(app, job.id, params.log);
		return orFail(async () => {
			const answer = await app.pool.run('baselines', { dataDir: app.dataDir, logId: log.id });
			if (!answer.ok) throw new InputError(answer.message);
			const { baselines } = answer;
			return {
				measured: NAMES.map((name) => ({
					name,
					title: BASELINE_TITLES[name],
					now: baselineText(job.vehicle.baselines?.[name]),
					here: baselineText(baselines[name])
				}))
			};
		});
	},
	/** Takes the ticked ones over into the vehicle; its logs are judged anew. */
	take: async ({ params, request, locals }) => {
		const { app } = locals;
		const job = await jobOr404(app, params.job);
		const log = await logOr404(app, job.id, params.log);
		const ticked = (await request.formData()).getAll('baseline');
		return orFail(async () => {
			const wanted = NAMES.filter((n) => ticked.includes(n));
			if (wanted.length === 0) throw new InputError('tick at least one of them');
			const answer = await app.pool.run('baselines', { dataDir: app.dataDir, logId: log.id });
			if (!answer.ok) throw new InputError(answer.message);
			const taken = Object.fromEntries(
				wanted.filter((n) => answer.baselines[n] !== undefined).map((n) => [n, answer.baselines[n]])
			);
			await saveVehicle(app, job.vehicleId, {
				...job.vehicle,
				baselines: { ...job.vehicle.baselines, ...taken }
			});
			return { taken: Object.keys(taken).length };
		});
	}
};
