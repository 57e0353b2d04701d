import { KEPT } from '$core/evidence/typed-maxima';
import { InputError } from '$core/input-error';
import { profileOf } from '$core/limits/profile';
import { field, jobOr404, orFail, tunerOr401 } from '$lib/server/http/http';
import { dropMaxima, keepMaxima, maximaOf, maximaOfLike } from '$lib/server/jobs/maxima';
import { currentRevision, revisionsOf } from '$lib/server/revisions/revisions';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const profile = profileOf(job.vehicle.limits);
	const [readings, others, revisions, current] = await Promise.all([
		maximaOf(db, job.id, job.vehicle),
		maximaOfLike(db, job),
		revisionsOf(db, job.id),
		currentRevision(db, job.id)
	]);
	return {
		kinds: KEPT.map(({ id, title, unit, limits }) => ({
			id,
			title,
			unit,
			limits: limits.map(([severity, name]) => ({ severity, value: profile[name] }))
		})),
		readings,
		others,
		revisions: revisions
			.filter((r) => r.state !== 'draft')
			.map(({ id, number }) => ({ id, number }))
			.reverse(),
		current: current.id
	};
};

/** The document as the form says it. @throws InputError naming the field */
function maximaFrom(data: FormData) {
	const values = KEPT.flatMap(({ id, title }) => {
		const typed = field(data, `values.${id}`).trim().replace(',', '.');
		if (typed === '') return [];
		if (!Number.isFinite(Number(typed)))
			throw new InputError(`a number was expected (found ${typed})`, title);
		return [[id, Number(typed)] as const];
	});
	return {
		schema: 'tanto.maxima/1',
		source: field(data, 'source'),
		since: field(data, 'since').trim() || null,
		values: Object.fromEntries(values)
	};
}

export const actions: Actions = {
	keep: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const entered = Object.fromEntries([...data].map(([k, v]) => [k, String(v)]));
		return orFail(async () => {
			const revision = Number(field(data, 'revision'));
			await keepMaxima(locals.app.db, job.id, revision, tunerOr401(locals).name, maximaFrom(data));
			return { kept: true };
		}, entered);
	},
	drop: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const id = Number(field(await request.formData(), 'reading'));
		return orFail(async () => {
			await dropMaxima(locals.app.db, job.id, id);
			return { dropped: true };
		});
	}
};
