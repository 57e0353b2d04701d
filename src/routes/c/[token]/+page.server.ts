import { InputError } from '$core/input-error';
import { jobOfLink } from '$lib/server/http/customer';
import { handedOut } from '$lib/server/revisions/handed-out';
import { customerFields } from '$lib/server/http/customer-form';
import { orFail } from '$lib/server/http/http';
import { jobView, setWaiting } from '$lib/server/jobs/jobs';
import { logsOf } from '$lib/server/logs/logs';
import { inspectionOf } from '$lib/server/jobs/inspection';
import { fromCustomer, messagesOf } from '$lib/server/jobs/messages';
import { phoneContext } from '$lib/server/http/phone-context';
import { currentRequest } from '$lib/server/jobs/drive-plans';
import { storyOf } from '$lib/server/views/customer-story';
import { isInTheCar } from '$lib/server/revisions/installed-revision';
import { confirmInstalled } from '$lib/server/revisions/revision-events';
import { currentRevision, revision, withdrawalsOf } from '$lib/server/revisions/revisions';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, parent }) => {
	const { db } = locals.app;
	const { jobId } = await parent();
	const job = (await jobView(db, jobId))!;
	const current = await revision(db, (await currentRevision(db, jobId)).id);
	const withdrawn = (await withdrawalsOf(db, jobId)).filter((w) => w.number > current!.number).at(-1);
	const given = await handedOut(db, current!);
	const logs = await logsOf(db, jobId);
	const plan = await currentRequest(db, jobId);
	const inspection = await inspectionOf(db, jobId);
	return {
		revision: {
			id: current!.id,
			number: current!.number,
			released: current!.state === 'released',
			notes: current!.notes,
			installed: await isInTheCar(db, current!),
			at: current!.releasedAt ?? current!.createdAt
		},
		/** A later one that was taken back, while nothing newer has come. */
		withdrawn: withdrawn ? { number: withdrawn.number, reason: withdrawn.reason } : null,
		givesTables: given.tables !== null,
		files: given.files.map((a) => ({
			id: a.id,
			name: a.name,
			bytes: a.bytes,
			hardware: a.hardware,
			software: a.software,
			sha256: a.sha256,
			at: a.at,
			/** It came after the release. */
			later: current!.releasedAt !== null && a.at > current!.releasedAt
		})),
		plan: plan && {
			title: plan.plan.title ?? 'Drive plan',
			purpose: plan.plan.purpose ?? '',
			steps: plan.plan.manoeuvres?.length ?? 0
		},
		inspection: { open: inspection.filter((i) => i.state === null).length, all: inspection.length },
		done: job.done,
		story: await storyOf(db, jobId, job.done),
		waitingOn: job.waitingOn,
		context: await phoneContext(db, job, true),
		messages: (await messagesOf(db, jobId))
			.filter((m) => m.kind !== 'note')
			.map(({ id, kind, author, body, at, advice }) => ({ id, kind, author, body, at, advice }))
			.reverse(),
		sent: logs
			.filter((l) => l.sentBy === 'customer' && l.takenOut === null)
			.map((l) => ({
				id: l.id,
				name: l.name,
				at: l.receivedAt,
				state: l.declinedAt ? 'declined' : l.state,
				message: l.message
			}))
			.reverse()
	};
};

export const actions: Actions = {
	/** The customer has flashed it. */
	installed: async (event) => {
		const { app } = event.locals;
		const jobId = await jobOfLink(event);
		return orFail(async () => {
			const job = (await jobView(app.db, jobId))!;
			const current = await currentRevision(app.db, jobId);
			// The form says which one it speaks of: a newer one may have been released since the page was opened.
			if (Number((await customerFields(event.request)).get('revision')) !== current.id)
				throw new InputError(
					'there is a newer file for your car since this page was opened: look at it first'
				);
			await confirmInstalled(app.db, (await revision(app.db, current.id))!, job.customer);
			return { confirmed: true };
		});
	},
	write: async (event) => {
		const jobId = await jobOfLink(event);
		const fields = await customerFields(event.request);
		const body = fields.get('body') ?? '';
		return orFail(
			async () => {
				const job = (await jobView(event.locals.app.db, jobId))!;
				await fromCustomer(event.locals.app.db, jobId, job.customer, body);
				await setWaiting(event.locals.app.db, jobId, 'tuner');
				return { written: true };
			},
			{ body }
		);
	}
};
