import { redirect } from '@sveltejs/kit';
import { InputError } from '$core/input-error';
import { climbs } from '$core/climbing/step';
import { titleOf } from '$core/calibration/items';
import { field, jobOr404, orFail } from '$lib/server/http';
import { ladderOfJob, proposeRung, type JobLadder } from '$lib/server/ladders';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const job = await jobOr404(locals.app, params.job);
	let ladder: JobLadder | null = null;
	let problem = '';
	try {
		ladder = await ladderOfJob(locals.app, job.id);
	} catch (e) {
		if (!(e instanceof InputError)) throw e;
		problem = e.message;
	}
	return {
		ladder,
		problem,
		climbs: ladder !== null && climbs(ladder.answer.rung),
		titles: Object.fromEntries((ladder?.answer.changes ?? []).map((c) => [c.item, titleOf({ id: c.item })]))
	};
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
