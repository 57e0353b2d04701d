/** What every page that looks into a log needs of the server: the log, its screening, and nothing of its samples. */
import { error } from '@sveltejs/kit';
import { fuelStoich } from '../../core/vehicle.ts';
import type { App } from './app.ts';
import { jobOr404, logOr404 } from './http.ts';
import { screeningOf } from './logs.ts';

export async function evidencePage(app: App, params: { job: string; log: string }) {
	const job = await jobOr404(app, params.job);
	const log = await logOr404(app, job.id, params.log);
	const screening = (await screeningOf(app.db, log.id)) ?? error(404, 'This log has not been read yet.');
	return {
		log,
		report: screening.report,
		profile: screening.profile,
		stoich: fuelStoich(job.vehicle),
		cylinders: job.vehicle.engine.cylinders
	};
}
