import { attachmentsOf } from '$lib/server/attachments';
import { jobOfLink } from '$lib/server/customer';
import { jobView } from '$lib/server/jobs';
import { logsOf } from '$lib/server/logs';
import { currentRevision, revision } from '$lib/server/revisions';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals, setHeaders }) => {
	const { db } = locals.app;
	const jobId = await jobOfLink(locals.app, params.token);
	// The address is the key: it is kept out of referrers, caches and search engines.
	setHeaders({ 'cache-control': 'private, no-store', 'x-robots-tag': 'noindex' });
	const job = (await jobView(db, jobId))!;
	const current = await revision(db, (await currentRevision(db, jobId)).id);
	const logs = await logsOf(db, jobId);
	return {
		title: job.title,
		vehicle: job.vehicle.name,
		revision: {
			number: current!.number,
			released: current!.state === 'released',
			notes: current!.notes,
			at: current!.releasedAt ?? current!.createdAt
		},
		files: (await attachmentsOf(db, current!.id)).map((a) => ({
			id: a.id,
			name: a.name,
			bytes: a.bytes,
			hardware: a.hardware,
			software: a.software,
			sha256: a.sha256
		})),
		sent: logs
			.filter((l) => l.sentBy === 'customer')
			.map((l) => ({ name: l.name, at: l.receivedAt, state: l.state, message: l.message }))
			.reverse()
	};
};
