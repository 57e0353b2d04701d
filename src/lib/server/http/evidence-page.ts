/** What every page that looks into a log needs of the server: the log, its screening, and nothing of its samples. */
import { error } from '@sveltejs/kit';
import { fuelStoich } from '$core/vehicle/facts.ts';
import type { App } from '$lib/server/context.ts';
import { jobOr404, logOr404 } from './http.ts';
import { logPage, type LogPagePath } from '$core/screening/log-pages.ts';
import { saidOf, shownOf } from '$core/screening/sections.ts';
import { screeningOf } from '$lib/server/logs/logs.ts';

/** @param path which of the pages of a log asks */
export async function evidencePage(app: App, params: { job: string; log: string }, path: LogPagePath) {
	const { sections, also } = logPage(path);
	const job = await jobOr404(app, params.job);
	const log = await logOr404(app, job.id, params.log);
	const screening = (await screeningOf(app.db, log.id)) ?? error(404, 'This log has not been read yet.');
	return {
		log,
		report: screening.report,
		said: saidOf(screening.report, sections, also),
		shown: shownOf(screening.report),
		profile: screening.profile,
		stoich: fuelStoich(job.vehicle),
		cylinders: job.vehicle.engine.cylinders
	};
}
