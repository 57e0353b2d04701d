import { redirect } from '@sveltejs/kit';
import { fuelStoich } from '$core/vehicle/document';
import { askAgain, askAgainUnread } from '$core/planning/fit';
import { planFrom, TEMPLATES } from '$core/planning/templates';
import { field, jobOr404, logOr404, orFail, tunerOr401 } from '$lib/server/http';
import { setWaiting } from '$lib/server/jobs';
import { toCustomer } from '$lib/server/messages';
import { ask, currentRequest } from '$lib/server/requests';
import { outcomeOf } from '$lib/server/outcome';
import { speakingFor } from '$lib/server/evidence';
import { saveSetting, setting } from '$lib/server/settings';
import { layoutHintSchema } from '$core/logfile/layout-error';
import { parseJson, parseWith } from '$core/parse';
import { DEFAULT_STRATEGY, strategySchema, type Strategy } from '$core/correction/strategy';
import { answerFinding, answersOf, historyOf, takeBack } from '$lib/server/answers';
import { briefOf, changesBetween, stillOpen } from '$core/screening/brief';
import type { Check } from '$core/screening/check';
import { CHECKS } from '$core/screening/codes';
import { sectionsOf, shownOf } from '$core/screening/sections';
import {
	decline,
	earlierRuns,
	logsOf,
	readAgain,
	removeLog,
	restate,
	sayLayout,
	screeningOf,
	takeOut,
	type Screening
} from '$lib/server/logs';
import { bestPull } from '$core/evidence/segments/pull-curves';
import type { TraceWindow } from '$core/logfile/pyramid';
import { traceWindow } from '$lib/server/log-store';
import { channelsOf, TRACE_POINTS } from '$lib/ui/lanes/questions';
import { briefsOf } from '$lib/server/screenings';
import { createDraft, revision, revisionsOf, takeProposal, type Revision } from '$lib/server/revisions';
import type { Db } from '$lib/server/db/open';
import { injectorsDiffer } from '$core/calibration/effective-fuel';
import { InputError } from '$core/input-error';
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
	const answers = await answersOf(db, job.id);
	return {
		since:
			previous && last && screening
				? { name: previous.title, changes: changesBetween(last, briefOf(screening.report)) }
				: null,
		answers,
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
		injectorsChanged: await newInjectors(db, made),
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

/** Whether a revision has other injector data than the one that it was made from. */
async function newInjectors(db: Db, made: Revision | null): Promise<boolean> {
	const parent = made?.parentId ? await revision(db, made.parentId) : null;
	return made && parent ? injectorsDiffer(parent.calibration, made.calibration) : false;
}

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
			if (log.state !== 'screened') throw new InputError('the log is not screened yet');
			const strategy = strategyFrom(data);
			if (strategy) await saveSetting(locals.app.db, tuner.id, 'strategy', { ...strategy, injectors: false });
			const parent = await revision(locals.app.db, log.revisionId);
			// Which injectors are in the car is a matter of the revision, not of the tuner's habits.
			const wanted = strategy ?? {
				...((await setting(locals.app.db, tuner.id, 'strategy')) ?? DEFAULT_STRATEGY),
				injectors: await newInjectors(locals.app.db, parent)
			};
			const logIds = await speakingFor(locals.app.db, job.id, log.id);
			const answer = await locals.app.pool.propose({
				dataDir: locals.app.dataDir,
				logIds,
				revisionId: log.revisionId,
				strategy: wanted
			});
			if (!answer.ok) throw new InputError(answer.message);
			const { silent = [] } = answer.proposal;
			const spoke = logIds.filter((_, n) => !silent.some((s) => s.log === n));
			const open = (await revisionsOf(locals.app.db, job.id)).find((r) => r.state === 'draft');
			if (open) return takeProposal(locals.app.db, open.id, log.revisionId, answer.proposal, spoke);
			return createDraft(locals.app.db, parent!, answer.proposal, spoke);
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
		const body = field(data, 'body');
		const result = await orFail(async () => {
			const template = TEMPLATES.find((t) => t.id === field(data, 'template'));
			if (body === '') throw new InputError('say what was wrong with it');
			if (template)
				await ask(app.db, job.id, template.id, planFrom(template.id, job.vehicle, { speedCapKmh: null }));
			await decline(app.db, log.id);
			await toCustomer(app, job, tunerOr401(locals).name, body, {
				logId: log.id,
				subject: `${job.title}: another log, please`
			});
			await setWaiting(app.db, job.id, 'customer');
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
