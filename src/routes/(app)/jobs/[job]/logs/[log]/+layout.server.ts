import { worstByPage } from '$core/screening/worst-by-page';
import { jobOr404, logOr404 } from '$lib/server/http/http';
import { briefsOf } from '$lib/server/logs/screenings';
import type { LayoutServerLoad } from './$types';

/** What the tabs of the log carry: its verdict, and the worst finding that each page explains. */
export const load: LayoutServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const log = await logOr404(locals.app, job.id, params.log);
	const brief = (await briefsOf(locals.app.db, [log.id])).get(log.id);
	return {
		reading: log.state === 'received' || log.state === 'reading',
		/** Which of its screenings is shown: another one means other evidence. */
		screeningId: brief?.screeningId ?? null,
		tabs:
			brief && log.state === 'screened'
				? { verdict: brief.verdict, pages: worstByPage(brief.findings) }
				: null
	};
};
