import { InputError } from '$core/input-error';
import { fieldsOf, goalFrom, type GoalFields } from '$lib/ui/goal-form';
import { fuelPlanOf } from '$lib/server/use-cases/plan-fuel';
import { goalOf, saveGoal } from '$lib/server/jobs/goals';
import { field, jobOr404, orFail, tunerOr401 } from '$lib/server/http/http';
import { logsOf } from '$lib/server/logs/logs';
import { callStage, fillsOf, noteFill, stagesOfJob } from '$lib/server/jobs/stages';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals, url }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const goal = await goalOf(db, job.id);
	const logs = (await logsOf(db, job.id)).filter((l) => l.state === 'screened' && l.takenOut === null);
	const wanted = url.searchParams.get('log');
	// A log says it better than figures do: the newest one, unless another basis was chosen.
	const log = wanted === 'none' ? null : (logs.find((l) => l.id === Number(wanted)) ?? logs.at(-1) ?? null);
	let plan = null;
	let problem = '';
	try {
		plan = await fuelPlanOf(locals.app, job, goal, log?.id ?? null);
	} catch (e) {
		if (!(e instanceof InputError)) throw e;
		problem = e.message;
	}
	return {
		stages: await stagesOfJob(db, job),
		fills: await fillsOf(db, job.id),
		fields: fieldsOf(goal),
		plan,
		problem,
		goalDutyPct: goal.dutyMaxPct ?? null,
		basis: log?.id ?? null,
		own: job.vehicle.injectors?.flowCcMin ?? null,
		logs: logs.map(({ id, title, name }) => ({ id, title, name })).reverse()
	};
};

export const actions: Actions = {
	goal: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const before = await goalOf(locals.app.db, job.id);
		const typed = Object.fromEntries(
			Object.keys(fieldsOf(before)).map((n) => [n, field(data, n)])
		) as GoalFields;
		return orFail(async () => {
			await saveGoal(locals.app.db, job.id, goalFrom(typed, before));
			return { saved: true };
		}, typed);
	},
	stage: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		return orFail(async () => {
			await callStage(
				locals.app.db,
				job,
				tunerOr401(locals).name,
				field(data, 'stage'),
				field(data, 'words')
			);
			return { called: true };
		});
	},
	fill: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const names = ['at', 'ethanolPct', 'octaneRon', 'source', 'words'] as const;
		const entered = Object.fromEntries(names.map((n) => [n, field(data, n)])) as Record<
			(typeof names)[number],
			string
		>;
		return orFail(async () => {
			await noteFill(locals.app.db, job.id, tunerOr401(locals).name, entered);
			return { noted: true };
		});
	}
};
