import { InputError } from '$core/input-error';
import { courseStep } from '$core/revising/course';
import { field, jobOr404, orFail, tunerOr401 } from '$lib/server/http';
import { setDone, setWaiting } from '$lib/server/jobs';
import { logsOf, screeningOf } from '$lib/server/logs';
import { toCustomer } from '$lib/server/messages';
import { eventsOf, holdAnswersOf, WORDS_LENGTH } from '$lib/server/release';
import { revision, revisionsOf } from '$lib/server/revisions';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const logs = (await logsOf(db, job.id)).filter((l) => l.state === 'screened' && l.declinedAt === null);
	const course = await Promise.all(
		logs.map(async (l) => {
			const screening = await screeningOf(db, l.id);
			return {
				id: l.id,
				name: l.name,
				revision: l.revision,
				verdict: screening?.report.verdict ?? 'clear',
				...courseStep(screening?.cells ?? null, screening?.pulls ?? [])
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
	return { course, revisions };
};

export const actions: Actions = {
	done: async ({ params, request, locals }) => {
		const { app } = locals;
		const job = await jobOr404(app, params.job);
		const words = field(await request.formData(), 'words');
		return orFail(
			async () => {
				if (words.length < 10) throw new InputError('write what the customer should know (a sentence)');
				if (words.length > WORDS_LENGTH)
					throw new InputError(`the closing words are too long: at most ${WORDS_LENGTH} characters`);
				await setDone(app.db, job.id, words);
				await toCustomer(app, job, tunerOr401(locals).name, `Your tune is done.\n\n${words}`, {
					subject: `${job.title}: done`
				});
				await setWaiting(app.db, job.id, 'customer');
				return { done: true };
			},
			{ words }
		);
	},
	reopen: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		await setDone(locals.app.db, job.id, null);
		await setWaiting(locals.app.db, job.id, 'tuner');
	}
};
