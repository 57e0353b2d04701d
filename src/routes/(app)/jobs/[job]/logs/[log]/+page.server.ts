import { redirect } from '@sveltejs/kit';
import { fuelStoich } from '$core/vehicle/facts';
import { askAgain, askAgainUnread } from '$core/planning/fit';
import { field, jobOr404, logOr404, orFail, tunerOr401 } from '$lib/server/http/http';
import { currentRequest } from '$lib/server/jobs/drive-plans';
import { outcomeOf } from '$lib/server/views/outcome';
import { setting } from '$lib/server/jobs/settings';
import { layoutHintSchema } from '$core/logfile/layout-hint';
import { parseJson, parseWith } from '$core/parse';
import { DEFAULT_STRATEGY, strategySchema, type Strategy } from '$core/correction/strategy';
import { answerFinding, answersFor, historyOf, takeBack } from '$lib/server/logs/finding-answers';
import { briefOf, changesBetween, stillOpen } from '$core/screening/brief';
import type { Check } from '$core/screening/check';
import { CHECKS } from '$core/screening/codes';
import { sectionsOf, shownOf } from '$core/screening/sections';
import { earlierRuns, logsOf, removeLog, screeningOf, takeOut, type Screening } from '$lib/server/logs/logs';
import { bestPull } from '$core/evidence/segments/pull-curves';
import type { TraceWindow } from '$core/logfile/pyramid';
import { traceWindow } from '$lib/server/logs/log-store';
import { channelsOf, TRACE_POINTS } from '$lib/ui/lanes/questions';
import { briefsOf } from '$lib/server/logs/screenings';
import { revision, revisionsOf } from '$lib/server/revisions/revisions';
import { InputError } from '$core/input-error';
import { decline } from '$lib/server/use-cases/decline';
import { injectorsFirst, proposeFromLog } from '$lib/server/use-cases/propose';
import { readAgain, restate, sayLayout } from '$lib/server/use-cases/read-again';
import { findingKey } from '$core/screening/types';
import type { Actions, PageServerLoad } from './$types';

/** What the page shows of a screening: of the segments the pulls, of the pulls' curves those of the one to read first. */
function forPage(screening: Screening): Screening {
	const best = bestPull(screening.pulls);
	return {
		...screening,
		report: { ...screening.report, segments: screening.report.segments.filter((s) => s.kind === 'pull') },
		pulls: screening.pulls.map((p, i) => (i === best ? p : { ...p, rpm: [], curves: {} }))
	};
}

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const log = await logOr404(locals.app, job.id, params.log);
	const screening = log.state === 'screened' ? await screeningOf(db, log.id) : null;
	const made = await revision(db, log.revisionId);
	const lines = await revisionsOf(db, job.id);
	// The first picture comes with the page; zooming asks for more.
	const traces: Record<string, TraceWindow> = {};
	if (screening) {
		const have = new Set(screening.report.log.channels.map((c) => c.id));
		for (const channel of channelsOf('mixture', have)) {
			const window = await traceWindow(db, log.id, channel, 0, log.durationS, TRACE_POINTS);
			if (window) traces[channel] = window;
		}
	}
	const logs = await logsOf(db, job.id);
	const before = logs.filter((l) => l.id < log.id && l.state === 'screened' && l.takenOut === null);
	const briefs = await briefsOf(
		db,
		before.map((l) => l.id)
	);
	const earlier = before.map(({ id, title }) => ({ id, name: title, pulls: briefs.get(id)?.pulls ?? [] }));
	const previous = before.at(-1);
	const last = previous && briefs.get(previous.id);
	const history = await historyOf(db, job.id);
	const found = (screening?.report.findings ?? []).map((f) => ({ key: findingKey(f), severity: f.severity }));
	const { covering: answers, earlier: askedAgain } = await answersFor(db, job.id, log, found);
	return {
		since:
			previous && last && screening
				? { name: previous.title, changes: changesBetween(last, briefOf(screening.report)) }
				: null,
		answers,
		askedAgain,
		stillOpen: screening
			? stillOpen(last ?? null, briefOf(screening.report), new Set(Object.keys(answers)))
			: [],
		history: Object.fromEntries(
			Object.entries(history).map(([key, list]) => [key, list.filter((h) => h.logId < log.id)])
		),
		runs: await earlierRuns(db, log.id),
		traces,
		earlier: earlier.reverse(),
		strategy: (await setting(db, tunerOr401(locals).id, 'strategy')) ?? DEFAULT_STRATEGY,
		injectorsChanged: await injectorsFirst(db, made),
		ownLanes: await setting(db, tunerOr401(locals).id, 'lanes'),
		plan: (await currentRequest(db, job.id))?.plan.title ?? null,
		askAgain: screening ? askAgain(screening.report, log.name) : askAgainUnread(log.name, log.message),
		log,
		stoich: fuelStoich(job.vehicle),
		screening: screening && forPage(screening),
		rules: Object.fromEntries(CHECKS.map((c) => [c.code, c.title])) as Record<string, string>,
		swappable: CHECKS.filter((c: Check) => c.swaps).map((c) => c.code as string),
		sections: screening ? sectionsOf(screening.report) : [],
		shown: screening ? shownOf(screening.report) : {},
		outcome: made && screening ? await outcomeOf(locals.app, made, log.id, screening) : null,
		revisions: lines.filter((l) => l.state !== 'draft').map(({ id, number }) => ({ id, number })),
		draft: lines.find((l) => l.state === 'draft') ?? null
	};
};

/** The settings that came with the request, in percent where the form shows percent; `null` when it brought none. */
function strategyFrom(data: FormData): Strategy | null {
	if (field(data, 'method') === '') return null;
	const number = (name: string, by = 1) => Number(field(data, name).replace(',', '.')) / by;
	return parseWith(strategySchema, {
		method: field(data, 'method'),
		addShare: number('addShare', 100),
		removeShare: number('removeShare', 100),
		maxRemovePct: number('maxRemovePct'),
		maxPct: number('maxPct'),
		minSamples: number('minSamples'),
		minSeconds: number('minSeconds'),
		maxRemoveAgreedPct: number('maxRemoveAgreedPct'),
		mostSdPct: number('mostSdPct'),
		quietPct: number('quietPct'),
		cautious: field(data, 'cautious') === 'on',
		carry: field(data, 'carry') === 'on',
		injectors: field(data, 'injectors') === 'on'
	});
}

export const actions: Actions = {
	/** Says how a file is laid out whose layout wasn't recognised. */
	layout: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		const text = field(await request.formData(), 'hint');
		return orFail(async () => sayLayout(locals.app, log, parseWith(layoutHintSchema, parseJson(text))));
	},
	/** Proposes the next revision from this log. */
	propose: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		const data = await request.formData();
		const tuner = tunerOr401(locals);
		const result = await orFail(async () => {
			const strategy = strategyFrom(data);
			return proposeFromLog(locals.app, tuner.id, log, strategy);
		});
		if (typeof result !== 'number') return result;
		redirect(303, `/jobs/${job.id}/revisions/${result}`);
	},
	/** The log was made with another revision than was thought. */
	restate: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		const id = Number(field(await request.formData(), 'revision'));
		return orFail(async () => {
			await restate(locals.app, log, id);
			return { restated: true };
		});
	},
	answer: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		const data = await request.formData();
		return orFail(async () => {
			await answerFinding(locals.app.db, job.id, log.id, tunerOr401(locals).name, {
				key: field(data, 'key'),
				kind: field(data, 'kind'),
				reason: field(data, 'reason')
			});
			return { answered: true };
		});
	},
	takeBack: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		await takeBack(locals.app.db, job.id, field(await request.formData(), 'key'));
	},
	/** It won't do: the customer is told why, and what to drive. */
	decline: async ({ params, request, locals }) => {
		const { app } = locals;
		const job = await jobOr404(app, params.job);
		const log = await logOr404(app, job.id, params.log);
		const data = await request.formData();
		const result = await orFail(async () => {
			await decline(app, job, log, tunerOr401(locals).name, field(data, 'body'), field(data, 'template'));
			return true;
		});
		if (result !== true) return result;
		redirect(303, `/jobs/${job.id}`);
	},
	again: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		await readAgain(locals.app, log.id);
	},
	/** Out of the job, or in again: it stays in the record. */
	takeOut: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		const reason = field(await request.formData(), 'reason');
		return orFail(async () => {
			if (!log.takenOut && reason.length < 3) throw new InputError('say why it is taken out');
			await takeOut(locals.app.db, log, tunerOr401(locals).name, log.takenOut ? '' : reason);
			return { takenOut: true };
		});
	},
	remove: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		const result = await orFail(async () => {
			if (log.state !== 'failed') throw new InputError('only a log that could not be read is taken out');
			await removeLog(locals.app, log);
			return true;
		});
		if (result !== true) return result;
		redirect(303, `/jobs/${job.id}`);
	}
};
