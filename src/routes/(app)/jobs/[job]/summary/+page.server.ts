import { progressStep } from '$core/revising/progress';
import { field, jobOr404, orFail, releaserOf } from '$lib/server/http/http';
import { openIn } from '$lib/server/jobs/open-findings';
import { finish } from '$lib/server/use-cases/finish';
import { setArchived, setDone, setWaiting } from '$lib/server/jobs/jobs';
import { logsOf, screeningOf } from '$lib/server/logs/logs';
import { eventsOf, holdAnswersOf } from '$lib/server/revisions/revision-events';
import { revision, revisionsOf } from '$lib/server/revisions/revisions';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const logs = (await logsOf(db, job.id)).filter(
		(l) => l.state === 'screened' && l.declinedAt === null && l.takenOut === null
	);
	const progress = await Promise.all(
		logs.map(async (l) => {
			const screening = await screeningOf(db, l.id);
			return {
				id: l.id,
				name: l.name,
				title: l.title,
				revision: l.revision,
				verdict: screening?.report.verdict ?? 'clear',
				...progressStep(screening?.cells ?? null, screening?.pulls ?? [])
			};
		})
	);
	const lines = (await revisionsOf(db, job.id)).filter((r) => r.state === 'released');
	const revisions = await Promise.all(
		lines.map(async (line) => {
			const r = (await revision(db, line.id))!;
			return {
				id: r.id,
				number: r.number,
				at: r.releasedAt ?? r.createdAt,
				notes: r.notes,
				cells: r.changes.length,
				holds: (await holdAnswersOf(db, r.id)).length,
				withdrawn: (await eventsOf(db, r.id)).some((e) => e.kind === 'withdrawn')
			};
		})
	);
	return { progress, revisions, open: await openIn(db, job.id) };
};

export const actions: Actions = {
	done: async ({ params, request, locals }) => {
		const { app } = locals;
		const job = await jobOr404(app, params.job);
		const data = await request.formData();
		const [words, reason] = [field(data, 'words'), field(data, 'reason')];
		return orFail(
			async () => {
				await finish(app, job, releaserOf(locals).name, words, reason);
				return { done: true };
			},
			{ words, reason }
		);
	},
	archive: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		await setArchived(locals.app.db, job.id, job.archivedAt === null);
	},
	reopen: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		await setDone(locals.app.db, job.id, null);
		await setWaiting(locals.app.db, job.id, 'tuner');
	}
};
