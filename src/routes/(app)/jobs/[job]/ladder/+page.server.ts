import { redirect } from '@sveltejs/kit';
import { InputError } from '$core/input-error';
import { climbs } from '$core/climbing/step';
import { titleOf } from '$core/calibration/items';
import { profileOf } from '$core/limits/profile';
import type { App } from '$lib/server/context';
import { field, jobOr404, orFail } from '$lib/server/http/http';
import { ladderOfJob, proposeRung, type JobLadder } from '$lib/server/views/ladders';
import type { Actions, PageServerLoad } from './$types';

export interface LadderPage {
	ladder: JobLadder | null;
	/** Why there is none. */
	problem: string;
	climbs: boolean;
	titles: Record<string, string>;
}

/** What the steps are drawn against. */
export interface LadderLimits {
	knockDeg: number;
	leanPct: number;
}

async function pageOf(app: App, jobId: number): Promise<LadderPage> {
	try {
		const ladder = await ladderOfJob(app, jobId);
		const { rung, changes } = ladder.answer;
		return {
			ladder,
			problem: '',
			climbs: climbs(rung),
			titles: Object.fromEntries(changes.map((c) => [c.item, titleOf({ id: c.item })]))
		};
	} catch (e) {
		if (!(e instanceof InputError)) throw e;
		return { ladder: null, problem: e.message, climbs: false, titles: {} };
	}
}

// The page comes at once, and the answer when the logs of this rung and of those before it are read.
export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	const page = pageOf(locals.app, job.id);
	// Whoever waits for it hears of a failure; it may fail before anybody does.
	page.catch(() => undefined);
	const { knockWatchDeg, leanWatchPct } = profileOf(job.vehicle.limits);
	const limits: LadderLimits = { knockDeg: knockWatchDeg, leanPct: leanWatchPct };
	return { page, limits };
};

export const actions: Actions = {
	take: async ({ params, locals, request }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const asked = field(data, 'what');
		const reason = field(data, 'reason');
		const what = asked === 'shifts' || asked === 'throttle' ? asked : 'rung';
		const result = await orFail(() => proposeRung(locals.app, job.id, what, reason), { what, reason });
		if (typeof result !== 'number') return result;
		redirect(303, `/jobs/${job.id}/revisions/${result}`);
	}
};
