import { z } from 'zod';
import { parseWith } from '$core/parse';
import { attachmentsOf } from '$lib/server/attachments';
import { field, jobOr404, orFail, tunerOr401 } from '$lib/server/http';
import { saveRecord, setWaiting } from '$lib/server/jobs';
import { linkExpiry, renewLink, revokeLinks } from '$lib/server/links';
import { logsOf, screeningOf } from '$lib/server/logs';
import { lookoverOf } from '$lib/server/lookover';
import { addNote, messagesOf, toCustomer } from '$lib/server/messages';
import { recordFrom } from '$lib/server/new-job-form';
import { currentRequest } from '$lib/server/requests';
import { currentRevision, revisionsOf } from '$lib/server/revisions';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const logs = await logsOf(db, job.id);
	const revisions = await revisionsOf(db, job.id);
	const current = await currentRevision(db, job.id);
	const newest = logs.at(-1);
	const screening = newest?.state === 'screened' ? await screeningOf(db, newest.id) : null;
	return {
		logs,
		draft: revisions.find((r) => r.state === 'draft') ?? null,
		current,
		attachments: await attachmentsOf(db, current.id),
		newest: newest && screening ? { id: newest.id, name: newest.name, report: screening.report } : null,
		messages: (await messagesOf(db, job.id)).reverse(),
		plan: await currentRequest(db, job.id),
		lookover: await lookoverOf(db, job.id),
		linkUntil: await linkExpiry(db, job.id)
	};
};

const title = z.object({ title: z.string().min(1, 'the job needs a title').max(200) });

export const actions: Actions = {
	record: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		return orFail(async () => {
			const named = parseWith(title, { title: field(data, 'title') });
			await saveRecord(locals.app.db, job.id, named.title, recordFrom(data));
			return { saved: true };
		});
	},
	note: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const body = field(await request.formData(), 'body');
		return orFail(
			async () => {
				await addNote(locals.app.db, job.id, tunerOr401(locals).name, body);
				return { noted: true };
			},
			{ body }
		);
	},
	message: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const body = field(await request.formData(), 'body');
		return orFail(
			async () => {
				const notMailed = await toCustomer(locals.app, job, tunerOr401(locals).name, body);
				await setWaiting(locals.app.db, job.id, 'customer');
				return { sent: true, notMailed };
			},
			{ body }
		);
	},
	link: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		return { token: await renewLink(locals.app.db, job.id) };
	},
	revoke: async ({ params, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		await revokeLinks(locals.app.db, job.id);
	}
};
