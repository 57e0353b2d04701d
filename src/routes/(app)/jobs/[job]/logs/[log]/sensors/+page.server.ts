import { evidencePage } from '$lib/server/http/evidence-page';
import { field, jobOr404, logOr404, orFail, tunerOr401 } from '$lib/server/http/http';
import { conditionsFromFields } from '$lib/server/logs/log-conditions';
import { recordersOf, removeRecorder } from '$lib/server/use-cases/second-recorders';
import { dropTyped, keepTyped, typedOf } from '$lib/server/logs/typed-readings';
import { readAgain, sayConditions } from '$lib/server/use-cases/read-again';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const page = await evidencePage(locals.app, params, '/sensors');
	const job = await jobOr404(locals.app, params.job);
	const { db } = locals.app;
	return {
		...page,
		typed: await typedOf(db, page.log.id, job.vehicle),
		recorders: await recordersOf(db, page.log.id)
	};
};

export const actions: Actions = {
	type: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		const data = await request.formData();
		const typed = {
			kind: field(data, 'kind'),
			source: field(data, 'source'),
			unit: field(data, 'unit'),
			values: field(data, 'values')
		};
		return orFail(async () => {
			await keepTyped(locals.app.db, log, tunerOr401(locals).name, typed);
			// It votes: the log is judged anew.
			await readAgain(locals.app, log.id);
			return { typed: true };
		}, typed);
	},
	/** What the day was like, and where the sensors sat in this log. */
	conditions: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		const entered = Object.fromEntries(
			[...(await request.formData())].flatMap(([k, v]) => (typeof v === 'string' ? [[k, v] as const] : []))
		);
		return orFail(async () => {
			await sayConditions(locals.app, log, conditionsFromFields(entered, job.vehicle));
			return { conditionsSaved: true };
		}, entered);
	},
	takeOff: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		await removeRecorder(locals.app, log.id, Number(field(await request.formData(), 'recorder')));
		return { takenOff: true };
	},
	untype: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		await dropTyped(locals.app.db, log.id, Number(field(await request.formData(), 'reading')));
		await readAgain(locals.app, log.id);
		return { untyped: true };
	}
};
