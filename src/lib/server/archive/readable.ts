/** Reads all that the pages of a job read, so that what came from outside is refused as a whole instead of breaking a page later. */
import type { Db } from '$lib/server/db/open.ts';
import { currentRequest } from '$lib/server/jobs/drive-plans.ts';
import { goalOf } from '$lib/server/jobs/goals.ts';
import { inspectionOf, plugPhotosOf } from '$lib/server/jobs/inspection.ts';
import { jobView } from '$lib/server/jobs/jobs.ts';
import { proofsOf } from '$lib/server/jobs/knock-proofs.ts';
import { maximaOf } from '$lib/server/jobs/maxima.ts';
import { messagesOf } from '$lib/server/jobs/messages.ts';
import { openIn } from '$lib/server/jobs/open-findings.ts';
import { plugsOf } from '$lib/server/jobs/plug-readings.ts';
import { queue } from '$lib/server/jobs/queue.ts';
import { railOf } from '$lib/server/jobs/rail.ts';
import { fillsOf, stagesOfJob } from '$lib/server/jobs/stages.ts';
import { swapsOf } from '$lib/server/jobs/swap-tests.ts';
import { timelineOf } from '$lib/server/jobs/timeline.ts';
import { answersOf, historyOf } from '$lib/server/logs/finding-answers.ts';
import { contextOf } from '$lib/server/logs/log-context.ts';
import { evidenceOf } from '$lib/server/logs/log-selection.ts';
import { earlierRuns, logsOf, screeningOf } from '$lib/server/logs/logs.ts';
import { readinessOf } from '$lib/server/logs/readiness.ts';
import { slipsOf } from '$lib/server/logs/timeslips.ts';
import { typedOf } from '$lib/server/logs/typed-readings.ts';
import { attachmentsOf } from '$lib/server/revisions/attachments.ts';
import { handedOut } from '$lib/server/revisions/handed-out.ts';
import { eventsOf, holdAnswersOf } from '$lib/server/revisions/revision-events.ts';
import { revision, revisionsOf } from '$lib/server/revisions/revisions.ts';
import { tableProofsOf } from '$lib/server/revisions/table-proofs.ts';

/** @throws whatever the first reader throws that can't read its part */
export async function readWhole(db: Db, jobId: number): Promise<void> {
	const job = (await jobView(db, jobId))!;
	await railOf(db, job, await timelineOf(db, jobId));
	for (const { id } of await revisionsOf(db, jobId)) {
		const rev = (await revision(db, id))!;
		await eventsOf(db, id);
		await holdAnswersOf(db, id);
		await attachmentsOf(db, id);
		await handedOut(db, rev);
		await tableProofsOf(db, rev);
	}
	for (const log of await logsOf(db, jobId)) {
		await screeningOf(db, log.id);
		await earlierRuns(db, log.id);
		await contextOf(db, log.id);
		await typedOf(db, log.id, job.vehicle);
		await readinessOf(db, job, log);
	}
	const readers: readonly ((db: Db, jobId: number) => Promise<unknown>)[] = [
		slipsOf,
		answersOf,
		historyOf,
		evidenceOf,
		messagesOf,
		currentRequest,
		inspectionOf,
		plugPhotosOf,
		fillsOf,
		goalOf,
		swapsOf,
		plugsOf,
		proofsOf,
		openIn
	];
	for (const read of readers) await read(db, jobId);
	await stagesOfJob(db, job);
	await maximaOf(db, jobId, job.vehicle);
	// One job that a list can't read would take the whole list along.
	await queue(db);
}
