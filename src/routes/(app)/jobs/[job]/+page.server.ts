import { z } from 'zod';
import { parseWith } from '$core/parse';
import { attachmentsOf } from '$lib/server/revisions/attachments';
import { tuners } from '$lib/server/auth/accounts';
import { field, jobOr404, orFail, tunerOr401 } from '$lib/server/http/http';
import { assignJob } from '$lib/server/use-cases/assign';
import { isInTheCar } from '$lib/server/revisions/installed-revision';
import { saveRecord } from '$lib/server/jobs/jobs';
import { linkOf } from '$lib/server/jobs/links';
import { logsOf, screeningOf } from '$lib/server/logs/logs';
import { inspectionOf } from '$lib/server/jobs/inspection';
import { keepNote, makeLink, sendMessage } from '$lib/server/http/message-actions';
import { mailProblem, messagesOf, unreachable } from '$lib/server/jobs/messages';
import { recordFrom } from '$lib/server/http/new-job-form';
import { currentRequest } from '$lib/server/jobs/drive-plans';
import { currentRevision, revisionsOf } from '$lib/server/revisions/revisions';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals }) => {
	const { db } = locals.app;
	const job = await jobOr404(locals.app, params.job);
	const logs = await logsOf(db, job.id);
	const revisions = await revisionsOf(db, job.id);
	const current = await currentRevision(db, job.id);
	// Of a file that can't be read nobody knows anything: the newest that was read still speaks.
	const spoken = logs.filter((l) => l.takenOut === null);
	const newest = spoken.findLast((l) => l.state === 'screened');
	const screening = newest ? await screeningOf(db, newest.id) : null;
	const messages = (await messagesOf(db, job.id)).reverse();
	const link = await linkOf(db, locals.app.dataDir, job.id);
	const said = messages.find((m) => m.kind !== 'note');
	const problem = spoken.findLast((l) => l.kind === 'problem');
	return {
		logs,
		draft: revisions.find((r) => r.state === 'draft') ?? null,
		current,
		attachments: await attachmentsOf(db, current.id),
		installed: await isInTheCar(db, { id: current.id, jobId: job.id }),
		newest: newest && screening ? { id: newest.id, title: newest.title, report: screening.report } : null,
		/** Files that came after it and can't be read. */
		unreadable: spoken.filter((l) => l.state === 'failed' && l.id > (newest?.id ?? 0)),
		messages,
		/** The newest word, where it is the customer's and nobody has answered it. */
		word: said?.kind === 'from-customer' ? said : null,
		problem: problem && problem.id === spoken.at(-1)?.id ? problem : null,
		/** Why no mail goes to this customer; `null` where it does. */
		mailOff: mailProblem(locals.app.mailer, job),
		/** Why this customer knows of nothing that is written to them; `null` where they do. */
		unreachable: await unreachable(db, locals.app.mailer, job),
		plan: await currentRequest(db, job.id),
		me: tunerOr401(locals).id,
		/** Whom it can be handed to. */
		tuners: (await tuners(db)).map(({ id, name }) => ({ id, name })),
		inspection: await inspectionOf(db, job.id),
		link: link && { until: link.until, address: link.token ? `/c/${link.token}` : null }
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
	assign: async ({ params, request, locals }) => {
		const job = await jobOr404(locals.app, params.job);
		const data = await request.formData();
		const entered = { tuner: field(data, 'tuner'), note: field(data, 'note') };
		return orFail(async () => {
			await assignJob(locals.app.db, job, tunerOr401(locals), await tuners(locals.app.db), entered);
			return { assigned: true };
		}, entered);
	},
	note: (event) => keepNote(event),
	message: (event) => sendMessage(event),
	link: (event) => makeLink(event)
};
