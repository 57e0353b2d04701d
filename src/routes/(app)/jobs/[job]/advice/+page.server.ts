import { redirect } from '@sveltejs/kit';
import { ADVICE_KINDS } from '$core/screening/check';
import { adviceText, advisedKind } from '$core/planning/advice';
import { planFrom, TEMPLATES } from '$core/planning/templates';
import { InputError } from '$core/input-error';
import { field, jobOr404, orFail, tunerOr401 } from '$lib/server/http/http';
import { screeningOf } from '$lib/server/logs/logs';
import { ADVICE, toCustomer } from '$lib/server/jobs/messages';
import { newestLog } from '$lib/server/jobs/newest-log';
import { ask, currentRequest } from '$lib/server/jobs/drive-plans';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const log = await newestLog(db, job.id);
	const report = log ? ((await screeningOf(db, log.id))?.report ?? null) : null;
	return {
		log,
		kind: advisedKind(report),
		titles: ADVICE,
		texts: Object.fromEntries(ADVICE_KINDS.map((k) => [k, adviceText(k, report)])),
		plan: (await currentRequest(db, job.id))?.plan.title ?? null,
		templates: TEMPLATES.map(({ id, title }) => ({ id, title }))
	};
};

export const actions: Actions = {
	default: async ({ params, request, locals }) => {
		const { app } = locals;
		const job = await jobOr404(app, params.job);
		const data = await request.formData();
		const body = field(data, 'body');
		const kind = ADVICE_KINDS.find((k) => k === field(data, 'kind'));
		const result = await orFail(
			async () => {
				if (!kind) throw new InputError('say what kind of advice it is');
				if (body === '') throw new InputError('write what the customer should do');
				const template = TEMPLATES.find((t) => t.id === field(data, 'template'));
				if (template)
					await ask(app.db, job.id, template.id, planFrom(template.id, job.vehicle, { speedCapKmh: null }));
				const log = await newestLog(app.db, job.id);
				await toCustomer(app, job, tunerOr401(locals).name, body, {
					...(log ? { logId: log.id } : {}),
					advice: kind,
					subject: `${job.title}: ${ADVICE[kind]} first`
				});
				return true;
			},
			{ body, kind: kind ?? '' }
		);
		if (result !== true) return result;
		redirect(303, `/jobs/${job.id}`);
	}
};
