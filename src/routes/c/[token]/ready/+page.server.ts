import { jobView } from '$lib/server/jobs/jobs';
import { logsOf } from '$lib/server/logs/logs';
import { messagesOf } from '$lib/server/jobs/messages';
import { readinessOf } from '$lib/server/logs/readiness';
import { revisionsOf } from '$lib/server/revisions/revisions';
import type { PageServerLoad } from './$types';

/** The newest log that the customer sent, as a sheet before an event. */
export const load: PageServerLoad = async ({ locals, parent }) => {
	const { db } = locals.app;
	const { jobId } = await parent();
	const job = (await jobView(db, jobId))!;
	const log = (await logsOf(db, jobId))
		.filter((l) => l.sentBy === 'customer' && l.takenOut === null && l.kind === 'drive')
		.at(-1);
	if (!log) return { log: null, sheet: null, looked: false };
	const sheet = log.state === 'screened' ? await readinessOf(db, job, log) : null;
	return {
		log: { at: log.receivedAt, state: log.declinedAt ? 'declined' : log.state },
		sheet: sheet && {
			go: sheet.verdict.go,
			/** Why not, in one line. */
			why: sheet.verdict.go ? '' : sheet.verdict.why,
			lines: sheet.lines.map(({ item, state, seen, code }) => ({
				item,
				state,
				seen: state === 'look' || state === 'no-go' ? seen : '',
				/** Inside every limit, and not as this car usually is. */
				unusual: state === 'look' && sheet.own.some((o) => o.out && o.check === code),
				/** What was measured, and between what it lies in the logs in which this car was well. */
				levels: sheet.own.filter((o) => o.check === code)
			}))
		},
		/** Somebody answered it: with a word, a revision, or by calling the tune done. */
		looked:
			job.done !== null ||
			(await messagesOf(db, jobId)).some((m) => m.kind === 'to-customer' && m.at > log.receivedAt) ||
			(await revisionsOf(db, jobId)).some((r) => r.releasedAt !== null && r.releasedAt > log.receivedAt)
	};
};
