import { redirect } from '@sveltejs/kit';
import { fuelStoich } from '../../../../../../core/vehicle';
import { fuelOutcome } from '../../../../../../core/revising/outcome';
import { field, jobOr404, logOr404, orFail } from '$lib/server/http';
import { logsOf, readAgain, removeLog, restate, screeningOf, type Screening } from '$lib/server/logs';
import { bestPull } from '../../../../../../core/segments/pull-curves';
import type { TraceWindow } from '../../../../../../core/logfile/pyramid';
import { traceWindow } from '$lib/server/log-store';
import { channelsOf, TRACE_POINTS } from '$lib/ui/lanes/questions';
import { createDraft, revision, revisionsOf } from '$lib/server/revisions';
import { InputError } from '../../../../../../core/input-error';
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
	// Did the change of this revision do what it was meant to: its own log against the one it was made from.
	const source = made?.proposalLogs.at(-1);
	const before = source === undefined ? null : await screeningOf(db, source);
	const outcome =
		made && before?.cells && screening?.cells
			? fuelOutcome(made.changes, before.cells, screening.cells)
			: null;
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
	return {
		traces,
		log,
		stoich: fuelStoich(job.vehicle),
		screening: screening && forPage(screening),
		outcome,
		outcomeFrom:
			source === undefined ? null : ((await logsOf(db, job.id)).find((l) => l.id === source)?.name ?? null),
		revisions: lines.filter((l) => l.state !== 'draft').map(({ id, number }) => ({ id, number })),
		draft: lines.find((l) => l.state === 'draft') ?? null
	};
};

export const actions: Actions = {
	/** Proposes the next revision from this log. */
	propose: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		const result = await orFail(async () => {
			if (log.state !== 'screened') throw new InputError('the log is not screened yet');
			const parent = await revision(locals.app.db, log.revisionId);
			const answer = await locals.app.pool.propose({
				dataDir: locals.app.dataDir,
				logIds: [log.id],
				revisionId: log.revisionId
			});
			if (!answer.ok) throw new InputError(answer.message);
			return createDraft(locals.app.db, parent!, answer.proposal, [log.id]);
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
	again: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		await readAgain(locals.app, log.id);
	},
	remove: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const log = await logOr404(locals.app, job.id, params.log);
		const result = await orFail(async () => {
			if (log.state !== 'failed') throw new InputError('only a log that could not be read is taken out');
			await removeLog(locals.app.db, log.id);
			return true;
		});
		if (result !== true) return result;
		redirect(303, `/jobs/${job.id}`);
	}
};
