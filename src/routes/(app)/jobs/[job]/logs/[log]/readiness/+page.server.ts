import { error } from '@sveltejs/kit';
import { goOrNot, readinessLines } from '../../../../../../../core/screening/readiness-sheet';
import { jobOr404, logOr404 } from '$lib/server/http';
import { screeningOf } from '$lib/server/logs';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const log = await logOr404(locals.app, job.id, params.log);
	const screening =
		(await screeningOf(locals.app.db, log.id)) ?? error(404, 'This log has not been read yet.');
	const lines = readinessLines(screening.report, job.vehicle, screening.profile);
	return { log, lines, verdict: goOrNot(screening.report, lines), at: screening.at };
};
